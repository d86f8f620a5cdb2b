// The new stores, made once.

import { createStores } from './stores/proxy/index';

export const app = createStores();
export const { stores } = app;
