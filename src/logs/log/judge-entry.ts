import { isObject } from '../../base/json.js';
import { lineCauses, lineKinds, lineOutcomes, type LogHead, type LogLine } from './log-lines.js';

/** What is wrong with an entry of a log: `'turn' is not a whole number`. */
export type Fault = string;

type Test = (value: unknown) => boolean;

const isText: Test = (value) => typeof value === 'string';
const isWhole: Test = (value) => Number.isInteger(value) && (value as number) >= 0;
const isNumber: Test = (value) => typeof value === 'number';
/** About thirty years: what is more is no distance between two lines. */
const mostMs = 1e12;
const isTime: Test = (value) =>
  isNumber(value) && (value as number) >= 0 && (value as number) <= mostMs;
/** What a log may begin with: years of four digits, which all parts of an ISO time are made for. */
const isMoment: Test = (value) =>
  isText(value) &&
  Date.parse(value as string) >= Date.UTC(0) &&
  Date.parse(value as string) < Date.UTC(9999, 0);
const isRecord: Test = (value) => isObject(value);
const listOf =
  (test: Test): Test =>
  (value) =>
    Array.isArray(value) && value.every(test);
const oneOf =
  (names: readonly string[]): Test =>
  (value) =>
    names.includes(value as string);

const isChange: Test = (value) =>
  isObject(value) &&
  isText(value['path']) &&
  (value['path'] === '' || String(value['path']).startsWith('/')) &&
  (value['op'] === 'remove' ||
    ((value['op'] === 'add' || value['op'] === 'replace') && value['value'] !== undefined));

const isCall: Test = (value) =>
  isObject(value) && isWhole(value['call']) && isText(value['operation']);

const isDraws: Test = (value) =>
  isObject(value) &&
  (value['ids'] === undefined || listOf(isText)(value['ids'])) &&
  (value['now'] === undefined || isNumber(value['now'])) &&
  (value['random'] === undefined || listOf(isNumber)(value['random']));

type Rule = readonly [test: Test, must: string];

const whole: Rule = [isWhole, 'a whole number'];
const text: Rule = [isText, 'a text'];
const texts: Rule = [listOf(isText), 'a list of texts'];
const state: Rule = [isRecord, 'the state of all stores, an object'];

/** What each key must be; others are passed over. */
const lineRules: Readonly<Record<string, Rule>> = {
  do: text,
  turn: whole,
  at: [isTime, 'a number of milliseconds since the log began, not below 0'],
  kind: [oneOf(lineKinds), `one of ${lineKinds.join(', ')}`],
  by: [oneOf(lineCauses), `one of ${lineCauses.join(', ')}`],
  cause: whole,
  outcome: [oneOf(lineOutcomes), `one of ${lineOutcomes.join(', ')}`],
  reason: text,
  place: text,
  included: texts,
  draws: [isDraws, 'an object with ids, now and random'],
  run: whole,
  call: whole,
  answer: [isRecord, 'an object with result, value, error or end'],
  operation: text,
  nth: whole,
  sync: [(value) => value === true, 'true'],
  calls: [listOf(isCall), 'a list of objects with call and operation'],
  changes: [listOf(isChange), 'a JSON Patch of add, replace and remove'],
  notified: texts,
  others: whole,
  state,
};

const headRules: Readonly<Record<string, Rule>> = {
  leeshoreLog: [(value) => value === 1, '1'],
  schema: [isRecord, 'an object with name and sha256'],
  instance: text,
  began: [isMoment, 'an ISO time'],
  every: whole,
  timers: [(value) => value === true, 'true'],
  state,
};

/** An entry of a log, or what is wrong with it. */
export function judgeEntry(value: unknown): LogHead | LogLine | Fault {
  if (!isObject(value)) return 'a line is an object';
  const isFirst = 'leeshoreLog' in value;
  if (!isFirst && value['do'] === undefined) return "it has no 'do', the name of an action";
  const rules = isFirst ? headRules : lineRules;
  for (const key of Object.keys(value)) {
    const rule = Object.hasOwn(rules, key) ? rules[key] : undefined;
    if (rule === undefined || value[key] === undefined || rule[0](value[key])) continue;
    return key === 'leeshoreLog'
      ? `it is a log of version ${JSON.stringify(value[key])}, and this program reads version 1`
      : `'${key}' is not ${rule[1]}`;
  }
  return value as unknown as LogHead | LogLine;
}
