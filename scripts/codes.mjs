// Writes docs/codes.md from what 'explain' says.
import { writeFileSync } from 'node:fs';
import { codesMarkdown } from '../dist/core.js';

writeFileSync('docs/codes.md', codesMarkdown());
