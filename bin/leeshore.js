#!/usr/bin/env node
import { start } from '../dist/bin.js';

process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit();
});
await start();
