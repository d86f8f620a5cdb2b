import { code } from '../build/code.js';
import type { Output } from '../shared/output.js';
import type { ReaderFunction } from './reading.js';

/** Adds what components of Angular read and change the stores with. */
export function addAngular(output: Output, { types, params, args }: ReaderFunction): void {
  const module = output.moduleApart(
    'angular',
    'The stores in Angular: components read and change them.',
    ['@angular/core'],
  );
  const angular = (name: string) => module.value('@angular/core', name);
  const type = (name: string) => module.type('@angular/core', name);
  const [senders, sendersOf] = [
    module.type('senders', 'Senders'),
    module.value('senders', 'sendersOf'),
  ];
  const same = module.value('index', 'same');
  module.add(
    types(module),
    code`const hosted = new ${angular('InjectionToken')}<App>("stores");`,
    code`/** Provides stores that 'create' makes: for an application, or for a component and all in it; each instance gets its own. */
export const provideStoresHost = (create: () => App): ${type('Provider')}[] => [
{
provide: hosted,
useFactory: () => {
const app = create();
${angular('inject')}(${angular('DestroyRef')}).onDestroy(app.close);
return app;
},
},
];`,
    code`/** What the nearest host has made: to attach lazy stores, or to hand on. Throws where there is none. */
export function injectHosted(): App {
const app = ${angular('inject')}(hosted, { optional: true });
if (app === null) throw new Error("There is no provideStoresHost() for this component.");
return app;
}`,
    code`/** What 'read' gives, as a signal that changes only by value. */
export function injectReading<T>(read: (${params}) => T): ${type('Signal')}<T> {
const app = injectHosted();
const changes = ${angular('signal')}(0);
${angular('inject')}(${angular('DestroyRef')}).onDestroy(app.subscribe(() => {
changes.update((count) => count + 1);
}));
return ${angular('computed')}(() => {
// Reading it makes this value depend on it.
changes();
return read(${args});
}, { equal: ${same} });
}`,
    code`/** The actions of all stores, ready to be called. */
export const injectSenders = (): ${senders} => ${sendersOf}(injectHosted());`,
  );
}
