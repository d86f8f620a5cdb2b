// The old timetable, to be compared with ../harbour.stores.yaml:
//   leeshore compare examples/skerry/harbour.stores.yaml --with examples/skerry/old/office.participant.ts
import type { ExternalParticipant } from 'leeshore';
import { OldTimetable } from './office.js';

/** A state in a log, as office-with-log.ts writes it. */
type LoggedOffice = { timetable: OldTimetable['shown'] };

export default {
  name: 'old',
  // It checks nothing that it is given, and lets calls end that nobody waits for any more.
  refusesMisfits: false,
  abortsCalls: false,
  globals: {
    request: (url) => ({
      operation: 'office.crossingsOn',
      with: new URL(url, 'http://terminal.example').searchParams.get('day'),
    }),
    response(_operation, answer) {
      if ('result' in answer) return Response.json(answer.result);
      const { error, message } = answer;
      if (typeof error === 'object' && error !== null && 'status' in error)
        return Response.json(error, { status: Number(error.status) });
      throw new TypeError(message);
    },
  },
  log: {
    actions: {
      'timetable.load': { is: 'timetable.load', payload: ([day]: [string]) => day },
      'timetable.leave': 'timetable.leave',
    },
    state: {
      timetable: {
        day: ({ timetable }: LoggedOffice) => timetable.day,
        crossings: ({ timetable }: LoggedOffice) => timetable.crossings,
        busy: ({ timetable }: LoggedOffice) => timetable.busy,
        problem: ({ timetable }: LoggedOffice) => timetable.problem,
      },
    },
  },
  create() {
    const timetable = new OldTimetable();
    return {
      actions: {
        timetable: {
          leave: () => {
            timetable.leave();
          },
        },
      },
      tasks: {
        timetable: {
          load: {
            start(day: string) {
              if (day === 'yesterday') return { refused: 'That day is over.' };
              return timetable.load(day);
            },
          },
        },
      },
      state: {
        timetable: {
          day: () => timetable.shown.day,
          crossings: () => timetable.shown.crossings,
          busy: () => timetable.shown.busy,
          problem: () => timetable.shown.problem,
        },
      },
    };
  },
} satisfies ExternalParticipant;
