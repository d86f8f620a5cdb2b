// The old terminal, with the few lines that write a log of it: each call of a method becomes a line. The old code stays as it is.
import { Terminal } from './terminal';

/** What is asked and changes nothing: not worth a line. */
const questions = ['on', 'metresAboard', 'canBoard', 'tooWindy'];

export function terminalWithLog(
  newNumber: () => string,
  clock: () => number,
  write: (line: string) => void,
): Terminal {
  const terminal = new Terminal(newNumber, clock);
  // What JSON does not know, a Map here, is written as something that it does.
  const state = () => ({ ...terminal, lanes: Object.fromEntries(terminal.lanes.metres) });
  const note = (line: object) => write(JSON.stringify(line));
  note({ leeshoreLog: 1, state: state() });
  return new Proxy(terminal, {
    get(target, name) {
      const member: unknown = Reflect.get(target, name);
      if (typeof member !== 'function') return member;
      return (...payload: unknown[]) => {
        const result: unknown = member.apply(target, payload);
        const outcome = result === false ? 'refused' : 'done';
        if (!questions.includes(String(name))) note({ do: name, payload, outcome, state: state() });
        return result;
      };
    },
  });
}
