/**
 * The functions of the expression language, with who does them in generated code: the platform, the run time that is
 * copied beside it, or the environment, which is asked.
 */
export const languageFunctions = {
  'Math.abs': 'platform',
  'Math.ceil': 'platform',
  'Math.floor': 'platform',
  'Math.round': 'platform',
  'Math.trunc': 'platform',
  'Math.sign': 'platform',
  'Math.sqrt': 'platform',
  'Math.min': 'platform',
  'Math.max': 'platform',
  Number: 'platform',
  String: 'platform',
  'Number.isFinite': 'platform',
  'Number.isInteger': 'platform',
  'Number.isNaN': 'platform',
  'Number.isSafeInteger': 'platform',
  'Number.parseFloat': 'platform',
  'Object.keys': 'platform',
  'Object.values': 'platform',
  'Object.entries': 'platform',
  same: 'run time',
  sum: 'run time',
  sortBy: 'run time',
  groupBy: 'run time',
  toMap: 'run time',
  isoTime: 'run time',
  isoDay: 'run time',
  fits: 'run time',
  newId: 'environment',
  now: 'environment',
  random: 'environment',
} as const;

export type LanguageFunction = keyof typeof languageFunctions;

/** The functions that are called with values alone: `fits` takes the name of a type. */
export type CalledFunction = Exclude<LanguageFunction, 'fits'>;

/** The functions that somebody does. */
export type FunctionsBy<Who extends (typeof languageFunctions)[LanguageFunction]> = {
  [K in LanguageFunction]: (typeof languageFunctions)[K] extends Who ? K : never;
}[LanguageFunction];

/** Who does a function; `undefined` for a name that is none's. */
export function doneBy(name: string): (typeof languageFunctions)[LanguageFunction] | undefined {
  return Object.hasOwn(languageFunctions, name)
    ? languageFunctions[name as LanguageFunction]
    : undefined;
}
