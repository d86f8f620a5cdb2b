import { code } from '../build/code.js';
import type { Output } from '../shared/output.js';
import type { ReaderFunction } from './reading.js';

/** Adds what components of Vue read and change the stores with. */
export function addVue(output: Output, { types, params, args }: ReaderFunction): void {
  const module = output.moduleApart('vue', 'The stores in Vue: components read and change them.', [
    'vue',
  ]);
  const vue = (name: string) => module.value('vue', name);
  const type = (name: string) => module.type('vue', name);
  const [senders, sendersOf] = [
    module.type('senders', 'Senders'),
    module.value('senders', 'sendersOf'),
  ];
  const same = module.value('index', 'same');
  module.add(
    types(module),
    code`const hosted: ${type('InjectionKey')}<App> = Symbol("stores");`,
    code`/** Gives the stores to all components in it; a host within another gives its components other stores. */
export const StoresHost = /* @__PURE__ */ ${vue('defineComponent')}({
name: "StoresHost",
props: {
/** What 'createStores' gives. */
stores: { type: Object as ${type('PropType')}<App>, required: true },
},
setup(props, { slots }) {
${vue('provide')}(hosted, props.stores);
return () => slots["default"]?.();
},
});`,
    code`/** Gives the stores to a whole application: 'app.use(hostStores(stores))'. */
export const hostStores = (stores: App): ${type('Plugin')} => ({
install(app) {
app.provide(hosted, stores);
},
});`,
    code`/** What the nearest host was given: to attach lazy stores, or to hand on. Throws outside of a host. */
export function useHosted(): App {
const app = ${vue('inject')}(hosted, null);
if (app === null) throw new Error("There is no StoresHost around this component.");
return app;
}`,
    code`/** What 'read' gives, kept up to date as long as the component is there; it changes only by value. */
export function useReading<T>(read: (${params}) => T): ${type('ComputedRef')}<T> {
const app = useHosted();
const changes = ${vue('shallowRef')}(0);
${vue('onScopeDispose')}(app.subscribe(() => {
changes.value += 1;
}));
return ${vue('computed')}<T>((before) => {
// Reading it makes this value depend on it.
void changes.value;
const value = read(${args});
return ${same}(before, value) ? (before as T) : value;
});
}`,
    code`/** The actions of all stores, ready to be called. */
export const useSenders = (): ${senders} => ${sendersOf}(useHosted());`,
  );
}
