import { code } from '../build/code.js';
import type { Output } from '../shared/output.js';
import type { ReaderFunction } from './reading.js';

/** Adds what components of React read and change the stores with. */
export function addReact(output: Output, { types, params, args }: ReaderFunction): void {
  const module = output.moduleApart(
    'react',
    'The stores in React: components read and change them.',
    ['react'],
  );
  const react = (name: string) => module.value('react', name);
  const [senders, sendersOf] = [
    module.type('senders', 'Senders'),
    module.value('senders', 'sendersOf'),
  ];
  const keeper = module.value('index', 'keeper');
  const node = module.type('react', 'ReactNode');
  module.add(
    types(module),
    code`const Hosted = ${react('createContext')}<App | null>(null);`,
    code`/** Gives the stores to all components in it; a host within another gives its components other stores. */
export function StoresHost({ stores, children }: {
/** What 'createStores' gives: made once, not while drawing. */
readonly stores: App;
readonly children?: ${node};
}): ${node} {
return ${react('createElement')}(Hosted.Provider, { value: stores }, children);
}`,
    code`/** What the nearest host was given: to attach lazy stores, or to hand on. Throws outside of a host. */
export function useHosted(): App {
const app = ${react('useContext')}(Hosted);
if (app === null) throw new Error("There is no <StoresHost> around this component.");
return app;
}`,
    code`/** What 'read' gives. The component is drawn again when that changes by value. */
export function useReading<T>(read: (${params}) => T): T {
const app = useHosted();
const [keep] = ${react('useState')}(() => ${keeper}<T>());
const now = () => keep(read(${args}));
return ${react('useSyncExternalStore')}(app.subscribe, now, now);
}`,
    code`/** The actions of all stores, ready to be called; the same object at each drawing. */
export const useSenders = (): ${senders} => ${sendersOf}(useHosted());`,
  );
}
