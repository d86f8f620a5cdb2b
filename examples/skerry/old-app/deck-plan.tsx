// The deck, drawn.

import type { Car } from '../old/terminal';
import { terminal } from './session';
import { useReading } from './stores/proxy/react';

function Row({ car }: { readonly car: Car }) {
  return (
    <li key={car.number} title={car.remark}>
      {car.plate} ({car.metres} m)
    </li>
  );
}

function Summary(props: Pick<typeof terminal, 'capacity' | 'onHold'>) {
  return (
    <p>
      {props.capacity} m {props.onHold}
    </p>
  );
}

export function DeckPlan() {
  const freeM = useReading(({ deck }) => deck.freeM);
  return (
    <section>
      <Summary {...terminal} />
      <p>{freeM} m free</p>
      <ul>
        {terminal.cars
          .filter((car) => car.state === 'aboard')
          .map((car) => (
            <Row key={car.number} car={car} />
          ))}
      </ul>
      <button onClick={() => terminal.sail()}>Sail</button>
    </section>
  );
}
