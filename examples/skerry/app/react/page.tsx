import { StrictMode, useState } from 'react';
import { createRoot } from 'react-dom/client';
import { manners, type Manner } from '../office.js';
import { createStores, liveLog, type Outcome } from '../stores/reducer/index.js';
import { StoresHost } from '../stores/reducer/react.js';
import { environment } from '../terminal.js';
import { Bridge, Deck, Settings } from './deck.js';
import { Lanes, Plan, Timetable } from './lanes.js';

/** How the harbour office answers now. */
let manner: Manner = 'quick';

const stores = createStores({ ...environment(() => manner), log: liveLog() });

function Office() {
  return (
    <header>
      <h1>Skerry Sound ferry terminal</h1>
      <label>
        The office is{' '}
        <select id="office" onChange={({ target }) => (manner = target.value as Manner)}>
          {manners.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      <span>React, reducer stores</span>
    </header>
  );
}

function Page() {
  const [said, say] = useState('');
  /** Says why, if something is refused. */
  const report = (outcome: Outcome) => {
    say(outcome.status === 'refused' ? outcome.reason : '');
  };
  return (
    <>
      <Office />
      <p id="said" role="status">
        {said}
      </p>
      <main>
        <section>
          <Lanes report={report} />
          <Plan report={report} />
          <Timetable report={report} />
        </section>
        <section>
          <Deck report={report} />
          <Bridge report={report} />
          <Settings report={report} />
        </section>
      </main>
    </>
  );
}

const root = document.getElementById('page');
if (root !== null)
  createRoot(root).render(
    <StrictMode>
      <StoresHost stores={stores}>
        <Page />
      </StoresHost>
    </StrictMode>,
  );
