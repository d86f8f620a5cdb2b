// The old timetable, with the lines that write a log of it: requests, what comes of them, and timers. The old code stays as it is.
import { recordOld } from 'leeshore/record';
import { OldTimetable } from './office';

export function officeWithLog(write: (line: string) => void, now = Date.now): OldTimetable {
  const timetable = new OldTimetable();
  const record = recordOld({ write, now, state: () => ({ timetable: timetable.shown }) });
  globalThis.fetch = record.fetch(fetch, (url) => ({
    operation: 'office.crossingsOn',
    with: new URL(url, 'http://terminal.example').searchParams.get('day'),
  }));
  Object.assign(globalThis, record.timers());
  return record.store(timetable, { name: 'timetable' });
}
