import { flushSync } from 'react-dom';
import { createRoot } from 'react-dom/client';
import { PitProvider, usePit, type Action } from './Orchestra';

export default {
  name: 'old pit',
  document: true,
  settlesLater: true,
  create() {
    let shown!: ReturnType<typeof usePit>;
    const Probe = () => { shown = usePit(); return <h1>{shown.heading}</h1>; };
    const root = createRoot(document.createElement('div'));
    flushSync(() => root.render(<PitProvider><Probe /></PitProvider>));
    const act = (action: Action) => {
      const before = shown.pit;
      flushSync(() => shown.dispatch(action));
      return shown.pit !== before;
    };
    return {
      actions: { pit: {
        place: (p: any) => act({ do: 'place', ...p }), light: (id: string) => act({ do: 'light', id }),
        lightPart: (p: any) => { act({ do: 'lightPart', ...p }); }, announce: (piece: string) => { act({ do: 'announce', piece }); },
        blackout: () => act({ do: 'blackout' }),
      } },
      state: { pit: { stands: () => shown.pit.stands, piece: () => shown.pit.piece, dark: () => shown.pit.dark, steps: () => shown.pit.steps } },
      derived: { pit: { lit: () => shown.lit, heading: () => shown.heading } },
      close: () => root.unmount(),
    };
  },
};
