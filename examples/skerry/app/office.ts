import type { Crossing, Day, Services } from './stores/reducer/types.js';

/** How the harbour office answers: a switch on the page. */
export const manners = ['quick', 'slow', 'failing', 'silent'] as const;
export type Manner = (typeof manners)[number];

const crossings: Readonly<Record<Day, readonly Crossing[]>> = {
  yesterday: [],
  today: [
    { id: 'c1', to: 'Skarv', leaves: '09:40', free: 12 },
    { id: 'c2', to: 'Tern Holm', leaves: '11:15', free: 3 },
  ],
  tomorrow: [
    { id: 'c3', to: 'Skarv', leaves: '08:05', free: 20 },
    { id: 'c4', to: 'Outer Skerry', leaves: '10:30', free: 8 },
    { id: 'c5', to: 'Tern Holm', leaves: '16:50', free: 0 },
  ],
};

const delays: Readonly<Record<Manner, number>> = { quick: 30, slow: 1200, failing: 30, silent: 0 };

type Signal = Parameters<Services['office']['crossingsOn']>[1];

/** Answers after a time, unless nobody waits any more. */
function answer<T>(signal: Signal, manner: Manner, value: T): Promise<T> {
  return new Promise((resolve, reject) => {
    const timer =
      manner === 'silent'
        ? undefined
        : setTimeout(() => {
            if (manner === 'failing') reject(new Error('Fog: no line to the office.'));
            else resolve(value);
          }, delays[manner]);
    signal.addEventListener('abort', () => {
      clearTimeout(timer);
    });
  });
}

/** The services of the harbour, made up: `manner` says how the office answers now. */
export function harbourServices(manner: () => Manner): Services {
  const silence = (signal: Signal) => answer(signal, 'silent', undefined as never);
  return {
    office: {
      crossingsOn: (day, signal) => answer(signal, manner(), crossings[day]),
      book: ({ crossing }, signal) => answer(signal, manner(), `B-${crossing}`),
      rename: (_new, signal) => answer(signal, manner(), undefined),
      keep: (_plan, signal) => answer(signal, manner(), undefined),
      async *delays(_day, signal) {
        yield* [];
        await silence(signal);
      },
    },
    // The mast has no line today.
    mast: { speed: (_nothing, signal) => silence(signal) },
  };
}
