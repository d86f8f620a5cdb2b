import { terminal } from './session';

export function drawQueue(list: HTMLElement): () => void {
  const draw = () => {
    const waiting = terminal.cars.filter((car) => car.state === 'waiting');
    list.textContent = waiting.map((car) => `${car.plate}, ${car.metres} m`).join('\n');
  };
  draw();
  return terminal.on('cars', draw);
}

export function arrive(plate: string, metres: number): void {
  if (!terminal.arrive(plate, metres, 'port')) alert('Not now.');
}
