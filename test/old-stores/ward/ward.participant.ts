import { Injector, runInInjectionContext } from '@angular/core';
import { LAB, WardService, type Kind } from './ward.service';

export default {
  name: 'old ward',
  create({ services }: any) {
    const injector = Injector.create({ providers: [{ provide: LAB, useValue: services.lab }] });
    const ward = runInInjectionContext(injector, () => new WardService());
    return {
      actions: { ward: {
        takeIn: (p: any) => ward.takeIn(p.name, p.kind), show: (k: Kind | null) => ward.kind.set(k), select: (id: string) => ward.select(id),
        give: (n: number) => ward.give(n), discharge: () => ward.discharge(),
      } },
      tasks: { ward: { ask: { start: () => (ward.selected() === null ? false : void ward.ask()), running: () => ward.asking() } } },
      state: { ward: { patients: () => ward.patients(), selected: () => ward.selected(), kind: () => ward.kind(), values: () => ward.values(), asking: () => ward.asking() } },
      derived: { ward: { shown: () => ward.shown(), current: () => ward.current(), doses: () => ward.doses() } },
    };
  },
};
