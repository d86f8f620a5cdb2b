import { Component, computed, effect, inject } from '@angular/core';
import { injectHosted, injectReading, injectSenders } from '../stores/observable/angular.js';
import type { Lane } from '../stores/observable/index.js';
import { Said } from './said.js';

@Component({
  selector: 'terminal-deck',
  template: `
    <h2>Deck</h2>
    <p class="row">
      <b id="freeM">{{ freeM() }}</b> of <b id="capacityM">{{ capacityM() }}</b> m free ·
      <span id="boarding">{{ state() }}</span>
    </p>
    <form id="stretch" (submit)="measure($event, metres.value)">
      <input #metres type="text" name="metres" aria-label="metres of deck" placeholder="metres" />
      <button>Measure deck</button>
      <button type="button" data-deed="depart" (click)="report(deck.depart())">Depart</button>
      <button type="button" data-deed="hold" (click)="report(deck.holdFor(hold() === null ? 'fog' : null))">
        Hold
      </button>
    </form>
    <ul id="onBoard">
      @for (one of onBoard(); track one.id) {
        <li>
          <span>{{ one.plate }} · {{ one.lengthM }} m · {{ one.lane }}</span>
        </li>
      }
    </ul>
  `,
})
export class Deck {
  readonly onBoard = injectReading(({ deck }) => deck.onBoard.latest);
  readonly freeM = injectReading(({ deck }) => deck.freeM.latest);
  readonly capacityM = injectReading(({ deck }) => deck.capacityM.latest);
  readonly boarding = injectReading(({ deck }) => deck.boarding.latest);
  readonly hold = injectReading(({ deck }) => deck.hold.latest);
  readonly state = computed(() =>
    this.boarding() ? 'boarding' : `no boarding${this.hold() === null ? '' : `: ${this.hold()}`}`,
  );
  readonly deck = injectSenders().deck;
  readonly report = inject(Said).report;

  measure(event: Event, metres: string): void {
    event.preventDefault();
    this.report(this.deck.stretch(metres));
  }
}

@Component({
  selector: 'terminal-bridge',
  template: `
    <h2 style="margin-top: 18px">Bridge</h2>
    <p class="row">
      Wind <b id="wind">{{ speed() }}</b> m/s, <span id="mood">{{ mood() }}</span>
      <button type="button" data-deed="gust" (click)="report(senders.wind.measure(22))">Gust of 22</button>
    </p>
    <p class="row">
      On watch: <span id="onWatch">{{ onWatch() }}</span>
      <button type="button" data-deed="sign" (click)="sign()">Sign in or out</button>
    </p>
    <p class="row">
      Tariff desk: <span id="due">{{ due() === null ? 'closed' : due() + ' EUR due on board' }}</span>
      <button id="openTariff" type="button" [hidden]="due() !== null" (click)="openTariff()">Open</button>
      <button id="raise" type="button" [hidden]="due() === null" (click)="raise()">Dearer</button>
    </p>
    <p class="row">
      Berth <b id="berth">{{ berthNumber() }}</b
      >, sailings today <b id="sailings">{{ sailings() }}</b>
      <button type="button" data-deed="moor" (click)="moor()">Moor or cast off</button>
    </p>
  `,
})
export class Bridge {
  readonly speed = injectReading(({ wind }) => wind.speed.latest);
  readonly mood = injectReading(({ wind }) => wind.mood.latest);
  readonly onWatch = injectReading(({ desk }) => desk.title.latest);
  readonly berthNumber = injectReading(({ berth }) => berth.value.latest);
  readonly sailings = injectReading(({ log }) => log.sailings.latest);
  readonly due = injectReading(({ plan }) => plan.due.latest);
  readonly senders = injectSenders();
  readonly report = inject(Said).report;
  readonly #attach = injectHosted().attach;

  sign(): void {
    const { desk } = this.senders;
    this.report(this.onWatch() === 'nobody' ? desk.signIn({ name: 'Inga', rank: 'master' }) : desk.signOut());
  }

  moor(): void {
    const { berth } = this.senders;
    this.report(this.berthNumber() === 0 ? berth.moor(2) : berth.castOff());
  }

  /** The tariff desk is loaded when it is opened; until then its store is null. */
  async openTariff(): Promise<void> {
    const { tariffStore } = await import('../stores/observable/stores/tariff.js');
    this.report(this.#attach(tariffStore));
  }

  raise(): void {
    const { tariff } = this.senders;
    if (tariff !== null) this.report(tariff.raise());
  }
}

@Component({
  selector: 'terminal-settings',
  template: `
    <h2 style="margin-top: 18px">Settings of the desk</h2>
    <p class="row">
      <label>
        First lane
        <select #lane id="firstLane" [value]="firstLane()" (change)="prefer(lane.value)">
          <option>port</option>
          <option>centre</option>
          <option>starboard</option>
        </select>
      </label>
      <button type="button" data-deed="enlarge" (click)="report(settings.enlarge())">Large type</button>
    </p>
  `,
})
export class Settings {
  readonly firstLane = injectReading(({ settings }) => settings.firstLane.latest);
  readonly isLarge = injectReading(({ settings }) => settings.largeType.latest);
  readonly settings = injectSenders().settings;
  readonly report = inject(Said).report;

  constructor() {
    effect(() => {
      document.body.classList.toggle('large', this.isLarge());
    });
  }

  prefer(lane: string): void {
    this.report(this.settings.preferLane(lane as Lane));
  }
}
