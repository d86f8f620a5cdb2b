import { createStores } from './stores/proxy/index';

export const { stores, whenChanged } = createStores();
