import { useEffect, type FormEvent } from 'react';
import type { Lane } from '../stores/reducer/index.js';
import { useHosted, useReading, useSenders } from '../stores/reducer/react.js';
import { field, type Reporting } from './lanes.js';

export function Deck({ report }: Reporting) {
  const onBoard = useReading((state, { derived }) => derived.deck.onBoard(state));
  const freeM = useReading((state, { derived }) => derived.deck.freeM(state));
  const capacityM = useReading((state) => state.deck.capacityM);
  const boarding = useReading((state, { derived }) => derived.deck.boarding(state));
  const hold = useReading((state) => state.deck.hold);
  const { deck } = useSenders();
  const measure = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    report(deck.stretch(field(event, 'metres')));
  };
  return (
    <>
      <h2>Deck</h2>
      <p className="row">
        <b id="freeM">{freeM}</b> of <b id="capacityM">{capacityM}</b> m free ·{' '}
        <span id="boarding">{boarding ? 'boarding' : `no boarding${hold === null ? '' : `: ${hold}`}`}</span>
      </p>
      <form id="stretch" onSubmit={measure}>
        <input type="text" name="metres" aria-label="metres of deck" placeholder="metres" />
        <button>Measure deck</button>
        <button type="button" data-deed="depart" onClick={() => report(deck.depart())}>
          Depart
        </button>
        <button type="button" data-deed="hold" onClick={() => report(deck.holdFor(hold === null ? 'fog' : null))}>
          Hold
        </button>
      </form>
      <ul id="onBoard">
        {onBoard.map(({ id, plate, lengthM, lane }) => (
          <li key={id}>
            <span>
              {plate} · {lengthM} m · {lane}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

export function Bridge({ report }: Reporting) {
  const speed = useReading((state) => state.wind.speed);
  const mood = useReading((state, { derived }) => derived.wind.mood(state));
  const onWatch = useReading((state, { derived }) => derived.desk.title(state));
  const berthNumber = useReading((state) => state.berth);
  const sailings = useReading((state, { derived }) => derived.log.sailings(state));
  const { wind, desk, berth } = useSenders();
  const sign = () =>
    onWatch === 'nobody' ? desk.signIn({ name: 'Inga', rank: 'master' }) : desk.signOut();
  return (
    <>
      <h2 style={{ marginTop: 18 }}>Bridge</h2>
      <p className="row">
        Wind <b id="wind">{speed}</b> m/s, <span id="mood">{mood}</span>
        <button type="button" data-deed="gust" onClick={() => report(wind.measure(22))}>
          Gust of 22
        </button>
      </p>
      <p className="row">
        On watch: <span id="onWatch">{onWatch}</span>
        <button type="button" data-deed="sign" onClick={() => report(sign())}>
          Sign in or out
        </button>
      </p>
      <TariffDesk report={report} />
      <p className="row">
        Berth <b id="berth">{berthNumber}</b>, sailings today <b id="sailings">{sailings}</b>
        <button
          type="button"
          data-deed="moor"
          onClick={() => report(berthNumber === 0 ? berth.moor(2) : berth.castOff())}
        >
          Moor or cast off
        </button>
      </p>
    </>
  );
}

/** The tariff desk is loaded when it is opened; until then its store is null. */
function TariffDesk({ report }: Reporting) {
  const due = useReading((state, { derived }) => derived.plan.due(state));
  const { attach, dispatch } = useHosted();
  const load = () => import('../stores/reducer/stores/tariff.js');
  const open = async () => report(attach((await load()).tariffStore));
  const raise = async () => report(dispatch((await load()).tariffActions.raise()));
  return (
    <p className="row">
      Tariff desk: <span id="due">{due === null ? 'closed' : `${due} EUR due on board`}</span>
      <button type="button" id="openTariff" hidden={due !== null} onClick={() => void open()}>
        Open
      </button>
      <button type="button" id="raise" hidden={due === null} onClick={() => void raise()}>
        Dearer
      </button>
    </p>
  );
}

export function Settings({ report }: Reporting) {
  const firstLane = useReading((state) => state.settings.firstLane);
  const isLarge = useReading((state) => state.settings.largeType);
  const { settings } = useSenders();
  useEffect(() => {
    document.body.classList.toggle('large', isLarge);
  }, [isLarge]);
  return (
    <>
      <h2 style={{ marginTop: 18 }}>Settings of the desk</h2>
      <p className="row">
        <label>
          First lane{' '}
          <select
            id="firstLane"
            value={firstLane}
            onChange={({ target }) => report(settings.preferLane(target.value as Lane))}
          >
            <option>port</option>
            <option>centre</option>
            <option>starboard</option>
          </select>
        </label>
        <button type="button" data-deed="enlarge" onClick={() => report(settings.enlarge())}>
          Large type
        </button>
      </p>
    </>
  );
}
