import { isAdmitted, start, type Admitted, type ByHand, type Deck } from './deck.js';

type Action =
  | { readonly type: 'admit'; readonly id: string; readonly payload: Admitted }
  | { readonly type: 'setCapacity'; readonly metres: number };

const usedIn = (deck: Deck) =>
  deck.vehicles.reduce((total, vehicle) => (vehicle.boarded ? total + vehicle.lengthM : total), 0);

function reduce(deck: Deck, action: Action): Deck {
  switch (action.type) {
    case 'admit': {
      const { payload, id } = action;
      const byLane = {
        ...deck.byLane,
        [payload.lane]: (deck.byLane[payload.lane] ?? 0) + payload.lengthM,
      };
      return { ...deck, vehicles: [...deck.vehicles, { ...payload, id, boarded: false }], byLane };
    }
    case 'setCapacity':
      return action.metres === deck.capacityM ? deck : { ...deck, capacityM: action.metres };
  }
}

/** A reducer store as an expert writes one. */
export function createReducerByHand(newId: () => string): ByHand {
  let deck = start;
  let used = { of: deck.vehicles, metres: 0 };
  const listeners: (() => void)[] = [];
  const usedM = () => {
    if (used.of !== deck.vehicles) used = { of: deck.vehicles, metres: usedIn(deck) };
    return used.metres;
  };
  const freeM = () => deck.capacityM - usedM();
  const dispatch = (action: Action) => {
    const before = deck;
    deck = reduce(deck, action);
    if (deck !== before) for (const listener of listeners) listener();
    return true;
  };
  return {
    admit: (payload) => isAdmitted(payload) && dispatch({ type: 'admit', id: newId(), payload }),
    setCapacity: (metres) => metres >= usedM() && dispatch({ type: 'setCapacity', metres }),
    freeM,
    watchFree(changed) {
      let last = freeM();
      listeners.push(() => {
        const now = freeM();
        if (now !== last) changed((last = now));
      });
    },
  };
}
