import { terminal } from './session';

export const windText = () => `${terminal.windSpeed} m/s${terminal.tooWindy() ? ', too windy' : ''}`;

export const onGust = (speed: number) => terminal.gust(speed);
