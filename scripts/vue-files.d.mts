import type { Plugin } from 'esbuild';

export const vueFiles: Plugin;
