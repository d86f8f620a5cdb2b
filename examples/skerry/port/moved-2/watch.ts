import { stores } from './session';

export const onWatch = () => stores.desk.officer?.name ?? 'nobody';

export const takeOver = (name: string) => stores.desk.signIn({ name, rank: 'mate' });

export const goOff = () => stores.desk.signOut();
