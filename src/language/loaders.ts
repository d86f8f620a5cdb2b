// What reads schemas: it needs a YAML parser and a validator, and loads when it is asked for.
export const loadChecking = () => import('./check/check.js');
export const loadFormatting = () => import('./check/format-schema.js');
