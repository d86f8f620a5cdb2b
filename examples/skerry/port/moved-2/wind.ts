import { stores } from './session';

export const windText = () => `${stores.wind.speed} m/s${stores.wind.tooStrong ? ', too windy' : ''}`;

export const onGust = (speed: number) => stores.wind.measure(speed);
