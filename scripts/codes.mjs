// Writes docs/codes.md from what 'explain' says.
import { writeFileSync } from 'node:fs';
import { codesMarkdown } from '../dist/index.js';

writeFileSync('docs/codes.md', codesMarkdown());
