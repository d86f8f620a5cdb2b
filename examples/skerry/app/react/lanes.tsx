import type { FormEvent } from 'react';
import type { Lane, Outcome } from '../stores/reducer/index.js';
import { useReading, useSenders } from '../stores/reducer/react.js';

export interface Reporting {
  readonly report: (outcome: Outcome) => void;
}

const lanes: readonly Lane[] = ['port', 'centre', 'starboard'];

/** What stands in a field of a form that was sent. */
export function field(event: FormEvent<HTMLFormElement>, name: string): string {
  const value = new FormData(event.currentTarget).get(name);
  return typeof value === 'string' ? value : '';
}

export function Lanes({ report }: Reporting) {
  const waiting = useReading((state, { derived }) => derived.deck.waiting(state));
  const firstLane = useReading((state) => state.settings.firstLane);
  const { deck } = useSenders();
  const admit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const lane = field(event, 'lane') as Lane;
    report(deck.admit({ plate: field(event, 'plate'), lengthM: Number(field(event, 'lengthM')), lane }));
  };
  return (
    <>
      <h2>Lanes</h2>
      <form id="admit" onSubmit={admit}>
        <input type="text" name="plate" placeholder="plate" aria-label="plate" />
        <input type="number" name="lengthM" defaultValue="4.5" step="0.5" aria-label="length in metres" />
        <select key={firstLane} name="lane" id="lane" defaultValue={firstLane} aria-label="lane">
          {lanes.map((lane) => (
            <option key={lane}>{lane}</option>
          ))}
        </select>
        <button>Admit</button>
      </form>
      <ul id="waiting">
        {waiting.map(({ id, plate, lengthM, lane }) => (
          <li key={id}>
            <span>
              {plate} · {lengthM} m · {lane}
            </span>
            <button type="button" data-deed="board" onClick={() => report(deck.board(id))}>
              board
            </button>
            <button type="button" data-deed="turn away" onClick={() => report(deck.turnAway(id))}>
              turn away
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

export function Plan({ report }: Reporting) {
  const called = useReading((state) => state.plan.lanes);
  const note = useReading((state) => state.plan.note);
  const canUndo = useReading((state, { derived }) => derived.plan.canUndo(state));
  const canRedo = useReading((state, { derived }) => derived.plan.canRedo(state));
  const { plan } = useSenders();
  return (
    <>
      <h2 style={{ marginTop: 18 }}>Next on board</h2>
      <p className="row">
        {lanes.map((lane) => (
          <button key={lane} type="button" data-deed={lane} onClick={() => report(plan.callLane(lane))}>
            {lane.charAt(0).toUpperCase() + lane.slice(1)}
          </button>
        ))}
      </p>
      <p className="row">
        <span id="called">{called.join(', ') || 'none yet'}</span>
        <button type="button" id="undo" disabled={!canUndo} onClick={() => report(plan.undo())}>
          Undo
        </button>
        <button type="button" id="redo" disabled={!canRedo} onClick={() => report(plan.redo())}>
          Redo
        </button>
      </p>
      <p className="row">
        <input
          type="text"
          id="planNote"
          maxLength={40}
          placeholder="note"
          aria-label="note"
          value={note}
          onChange={({ target }) => report(plan.write(target.value))}
        />
      </p>
    </>
  );
}

export function Timetable({ report }: Reporting) {
  const day = useReading((state) => state.timetable.day);
  const crossings = useReading((state) => state.timetable.crossings);
  const line = useReading((state, { derived }) => derived.timetable.line(state));
  const isLoading = useReading((_state, { tasks }) => tasks().timetable.load.running);
  const notice = useReading((state) => state.notices.text);
  const { timetable } = useSenders();
  return (
    <>
      <h2 style={{ marginTop: 18 }}>Timetable</h2>
      <p className="row">
        <button type="button" data-deed="today" onClick={() => report(timetable.load('today'))}>
          Today
        </button>
        <button type="button" data-deed="tomorrow" onClick={() => report(timetable.load('tomorrow'))}>
          Tomorrow
        </button>
        <button type="button" id="cancelLoad" hidden={!isLoading} onClick={() => report(timetable.load.cancel())}>
          Cancel
        </button>
      </p>
      <p className="row">
        <span id="day">{day ?? 'no day'}</span>:{' '}
        <span id="line" className={isLoading ? 'faint' : ''}>
          {line}
        </span>
      </p>
      <ul id="crossings">
        {crossings.map(({ id, leaves, to, free }) => (
          <li key={id}>
            <span>
              {leaves} to {to}
            </span>
            {free === 0 ? 'full' : `${free} places`}
          </li>
        ))}
      </ul>
      <p className="row" id="notice" role="status">
        {notice}
      </p>
    </>
  );
}
