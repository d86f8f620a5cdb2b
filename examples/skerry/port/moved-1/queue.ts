import { stores, whenChanged } from './session';

export function drawQueue(list: HTMLElement): () => void {
  const draw = () => {
    list.textContent = stores.deck.waiting.map((car) => `${car.plate}, ${car.lengthM} m`).join('\n');
  };
  draw();
  return whenChanged(() => stores.deck.waiting, draw);
}

export function arrive(plate: string, lengthM: number): void {
  const outcome = stores.deck.admit({ plate, lengthM, lane: 'port' });
  if (outcome.status === 'refused') alert(outcome.reason);
}
