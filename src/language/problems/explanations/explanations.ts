import type { Code } from '../catalogue.js';
import { errors } from './errors.js';
import type { Explanation } from './explanation.js';
import { warnings } from './warnings.js';

/** What `explain` says of each code. */
export const explanations: Readonly<Record<Code, Explanation>> = { ...errors, ...warnings };
