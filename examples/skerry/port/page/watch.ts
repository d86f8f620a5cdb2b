import { terminal } from './session';

export const onWatch = () => terminal.officer?.name ?? 'nobody';

export const takeOver = (name: string) => terminal.takeOver({ name, rank: 'mate' });

export const goOff = () => terminal.goOff();
