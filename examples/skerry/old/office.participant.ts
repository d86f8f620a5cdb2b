// The old timetable, to be compared with ../harbour.stores.yaml:
//   leeshore compare examples/skerry/harbour.stores.yaml --with examples/skerry/old/office.participant.ts
import type { BroughtParticipant } from 'leeshore';
import { OldTimetable } from './office.js';

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
} satisfies BroughtParticipant;
