import type { Application } from '../../model/application.js';
import type { ObservedClass } from '../../model/observed-class.js';

/** The kinds of faults that are planted in generated stores, with what each is. */
export const faultKinds = {
  'step left out': 'one step of an action is not done',
  'steps swapped': 'two steps that follow each other change places',
  'part of a step left out': 'a set or an update stores one value less',
  'wrong end of a list': 'what belongs to the end is put to the start, or the other way round',
  'reset forgets': 'a reset leaves a field or a store as it is',
  'reaction left out': 'a store does not react to an action',
  'requirement left out': 'an action is done that should be refused',
  'requirement turned': 'an action is refused when it should be done',
  'requirements swapped': 'the reason of a refusal is another',
  'refusal left out': 'nothing stands there, and nobody is told',
  'condition turned': 'a condition is true when it should be false',
  'branches swapped': 'the one side of a choice takes the place of the other',
  'bound off by one': 'a comparison holds at its bound, or does not',
  'and for or': 'one condition suffices where both are needed, or the other way round',
  'number off by one': 'a number is one too large',
  'plus for minus': 'what should be added is taken away, or the other way round',
  'some for every': 'one item suffices where all are meant, or the other way round',
  'text left as it is': 'a text is not trimmed, or not set in capitals',
  'source missed': 'a derived value, or an action, reads what a field was at the start',
  'wrong start': 'a field begins with another value',
  'wrong default': 'a payload that is not given is another',
  'text not converted': 'what comes from a form stays text',
  'watcher told twice': 'a watcher is called once more with the same',
  'watcher never told': 'a watcher is not called at all',
  'watcher told wrong': 'a watcher is told the new value as the old one',
  'watcher told of nothing': 'a watcher is called though nothing changed',
  'watcher not stopped': 'a watcher that was stopped is called all the same',
  'watcher stops others': 'what one watcher throws keeps the others from being called',
  'turns mixed up': 'an action that a watcher sends does not wait for its turn',
  'half an action': 'an action that is refused leaves some of its steps',
  'value out of date': 'a derived value stays what it was',
  'given out anew': 'a value that is equal is another object',
  'changed in place': 'what was read before changes',
  'copied in vain': 'what did not change is another object',
  'time passes': 'the time is asked for more than once in one action',
  'late answer not dropped':
    'the answer of a run that was displaced or cancelled is taken all the same',
  'older run goes on': 'a new start does not displace the run that goes on',
  'flag left on': 'a flag that the start turns on stays on at some end',
  'abort forgotten': 'a call that nobody waits for any more is not aborted',
  'one retry too many': 'a failed call is made again once more than it should be',
  'one retry too few': 'a failed call is made again once less than it should be',
  'time limit from the first call':
    'the time limit of a call goes on counting when it is made again',
  'start lost': 'of several starts that wait for a run, one is forgotten',
  'start asked twice': 'a step that starts a task starts it twice',
  'follows at creation': 'a task that follows a value starts before that has changed',
  'stale value followed': 'a task that follows a value is started with the one before',
  'result not judged': 'an answer that does not fit is stored',
  'stream not given up': 'a stream that nobody listens to any more is not unsubscribed',
  'run goes on after a cancel': 'the cancel steps are done, and the run goes on',
  'running too early off': 'a task that goes on is said not to',
  'wait forgotten': 'a call is made at once that should wait',
  'overlap mistaken': 'a second start does what another rule says',
  'per forgotten': 'runs of different values meet',
  'repeat forgotten': 'a task that repeats ends after its first round',
  'undo forgets a field': 'a field is not put back with the others',
  'history too long': 'one change more than the limit can be undone',
  'history too short': 'one change less than the limit can be undone',
  'row not undone at once': 'of several actions in a row that belong together one is undone',
  'redo not cleared': 'what was undone before a change can be redone after it',
  'undo noted as a change': 'an undo can be undone itself',
  'noted though nothing changed': 'an action that changes nothing can be undone',
  'field not saved': 'a field is not kept in storage with the others',
  'saved under another key': 'what is saved stands under a key that nobody reads',
  'another version saved': 'what is saved is said to be of another version',
  'earlier version not read': 'what an earlier version has saved is not read',
  'saved before the commit': 'what is stored is what was there before the action',
  'saved though nothing changed': 'an action that changes no saved field writes to the storage',
  'default in place of what was saved': 'a store begins with its defaults, whatever is stored',
  'saved data not judged': 'what stands in the storage is taken though it does not fit',
  'attached twice': 'attaching a store once more puts it back to what it was at the start',
  'reaction of a store not attached': 'a store that was attached reacts to nothing',
  'reactions in the order of attaching': 'a store that comes later reacts after all others',
  'out of date after attaching': 'what is derived stays as it was when a store is attached',
  'answers before it is attached':
    'what is asked of a store that is not attached is said to be done',
  'reset before it is attached': 'a reset of all stores makes one that is not attached',
  'attached with its defaults':
    'a store that is attached begins with its defaults, whatever is stored',
} as const;

export type FaultKind = keyof typeof faultKinds;

/** A fault that can be planted: in the model that stores are generated from, or in the generated code. */
export type Fault = {
  readonly kind: FaultKind;
  /** Where: a place in the schema, or a generated file. */
  readonly at: string;
  /** Why nobody can tell it from what is right, if that is known. */
  readonly equal?: string | undefined;
} & (
  | { readonly in: 'model'; readonly application: Application }
  | {
      readonly in: 'code';
      readonly style: string;
      readonly changes: readonly CodeChange[];
    }
);

/** What is written in a generated file, and what takes its place. */
export interface CodeChange {
  readonly file: string;
  readonly from: string;
  readonly to: string;
}

/** The outcome of a planted fault. */
export interface TriedFault {
  readonly kind: FaultKind;
  readonly at: string;
  readonly style: string;
  /** The class of the difference by which it was found; not found if not given. */
  readonly foundBy: ObservedClass | undefined;
  /** The number of steps that it took, or how many were done in vain. */
  readonly steps: number;
  readonly tookMs: number;
  /** What was never reached near it. */
  readonly missed: readonly string[];
  /** Why nobody can tell it from what is right, if that is known: then it was not looked for. */
  readonly equal?: string;
}
