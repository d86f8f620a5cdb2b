import '@angular/compiler';
import { Component, inject, Injectable, provideZonelessChangeDetection, signal } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { manners, type Manner } from '../office.js';
import { provideStoresHost } from '../stores/observable/angular.js';
import { createStores, liveLog } from '../stores/observable/index.js';
import { environment } from '../terminal.js';
import { Bridge, Deck, Settings } from './deck.js';
import { Lanes, Plan, Timetable } from './lanes.js';
import { Said } from './said.js';

/** How the harbour office answers now. */
@Injectable({ providedIn: 'root' })
export class Office {
  readonly manner = signal<Manner>('quick');
}

@Component({
  selector: 'terminal-page',
  imports: [Bridge, Deck, Lanes, Plan, Settings, Timetable],
  template: `
    <header>
      <h1>Skerry Sound ferry terminal</h1>
      <label>
        The office is
        <select id="office" (change)="answer($any($event.target).value)">
          @for (one of manners; track one) {
            <option>{{ one }}</option>
          }
        </select>
      </label>
      <span>Angular, observable stores</span>
    </header>
    <p id="said" role="status">{{ said() }}</p>
    <main>
      <section>
        <terminal-lanes />
        <terminal-plan />
        <terminal-timetable />
      </section>
      <section>
        <terminal-deck />
        <terminal-bridge />
        <terminal-settings />
      </section>
    </main>
  `,
})
class Page {
  readonly manners = manners;
  readonly said = inject(Said).text;
  readonly #office = inject(Office);

  answer(manner: Manner): void {
    this.#office.manner.set(manner);
  }
}

const host = document.createElement('terminal-page');
document.getElementById('page')?.append(host);
await bootstrapApplication(Page, {
  providers: [
    provideZonelessChangeDetection(),
    provideStoresHost(() => {
      const office = inject(Office);
      return createStores({ ...environment(() => office.manner()), log: liveLog() });
    }),
  ],
});
