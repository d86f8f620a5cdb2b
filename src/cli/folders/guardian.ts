import { recoverFolder } from './recover-folder.js';

/**
 * A process beside the one that replaces folders. Its standard input ends when that is done, or dead: if it was not
 * told that all is done, it puts the folders back. So a kill at any moment leaves a folder where there was one.
 */
const folders = process.argv.slice(2);
let told = '';
process.stdin.setEncoding('utf8');
process.stdin.on('data', (text: string) => (told += text));
process.stdin.on('end', () => {
  if (told === 'done') return;
  for (const folder of folders) {
    try {
      recoverFolder(folder);
    } catch {
      // Somebody else is at it, or the disk is gone: the next run tries again.
    }
  }
});
