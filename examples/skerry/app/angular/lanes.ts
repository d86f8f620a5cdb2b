import { Component, inject } from '@angular/core';
import { injectReading, injectSenders } from '../stores/observable/angular.js';
import type { Lane } from '../stores/observable/index.js';
import { Said } from './said.js';

@Component({
  selector: 'terminal-lanes',
  template: `
    <h2>Lanes</h2>
    <form id="admit" (submit)="admit($event, plate.value, lengthM.value, lane.value)">
      <input #plate type="text" name="plate" placeholder="plate" aria-label="plate" />
      <input #lengthM type="number" name="lengthM" value="4.5" step="0.5" aria-label="length in metres" />
      <select #lane id="lane" name="lane" [value]="firstLane()" aria-label="lane">
        <option>port</option>
        <option>centre</option>
        <option>starboard</option>
      </select>
      <button>Admit</button>
    </form>
    <ul id="waiting">
      @for (one of waiting(); track one.id) {
        <li>
          <span>{{ one.plate }} · {{ one.lengthM }} m · {{ one.lane }}</span>
          <button type="button" data-deed="board" (click)="report(deck.board(one.id))">board</button>
          <button type="button" data-deed="turn away" (click)="report(deck.turnAway(one.id))">turn away</button>
        </li>
      }
    </ul>
  `,
})
export class Lanes {
  readonly waiting = injectReading(({ deck }) => deck.waiting.latest);
  readonly firstLane = injectReading(({ settings }) => settings.firstLane.latest);
  readonly deck = injectSenders().deck;
  readonly report = inject(Said).report;

  admit(event: Event, plate: string, lengthM: string, lane: string): void {
    event.preventDefault();
    this.report(this.deck.admit({ plate, lengthM: Number(lengthM), lane: lane as Lane }));
  }
}

@Component({
  selector: 'terminal-plan',
  template: `
    <h2 style="margin-top: 18px">Next on board</h2>
    <p class="row">
      @for (lane of lanes; track lane) {
        <button type="button" [attr.data-deed]="lane" (click)="report(plan.callLane(lane))">
          {{ capital(lane) }}
        </button>
      }
    </p>
    <p class="row">
      <span id="called">{{ called().join(', ') || 'none yet' }}</span>
      <button id="undo" type="button" [disabled]="!canUndo()" (click)="report(plan.undo())">Undo</button>
      <button id="redo" type="button" [disabled]="!canRedo()" (click)="report(plan.redo())">Redo</button>
    </p>
    <p class="row">
      <input
        #noted
        id="planNote"
        type="text"
        maxlength="40"
        placeholder="note"
        aria-label="note"
        [value]="note()"
        (input)="report(plan.write(noted.value))"
      />
    </p>
  `,
})
export class Plan {
  readonly lanes: readonly Lane[] = ['port', 'centre', 'starboard'];
  readonly called = injectReading(({ plan }) => plan.lanes.latest);
  readonly note = injectReading(({ plan }) => plan.note.latest);
  readonly canUndo = injectReading(({ plan }) => plan.canUndo.latest);
  readonly canRedo = injectReading(({ plan }) => plan.canRedo.latest);
  readonly plan = injectSenders().plan;
  readonly report = inject(Said).report;

  capital(lane: Lane): string {
    return lane.charAt(0).toUpperCase() + lane.slice(1);
  }
}

@Component({
  selector: 'terminal-timetable',
  template: `
    <h2 style="margin-top: 18px">Timetable</h2>
    <p class="row">
      <button type="button" data-deed="today" (click)="report(timetable.load('today'))">Today</button>
      <button type="button" data-deed="tomorrow" (click)="report(timetable.load('tomorrow'))">Tomorrow</button>
      <button id="cancelLoad" type="button" [hidden]="!isLoading()" (click)="report(timetable.load.cancel())">
        Cancel
      </button>
    </p>
    <p class="row">
      <span id="day">{{ day() ?? 'no day' }}</span
      >: <span id="line" [class.faint]="isLoading()">{{ line() }}</span>
    </p>
    <ul id="crossings">
      @for (one of crossings(); track one.id) {
        <li>
          <span>{{ one.leaves }} to {{ one.to }}</span>
          {{ one.free === 0 ? 'full' : one.free + ' places' }}
        </li>
      }
    </ul>
    <p id="notice" class="row" role="status">{{ notice() }}</p>
  `,
})
export class Timetable {
  readonly day = injectReading(({ timetable }) => timetable.day.latest);
  readonly crossings = injectReading(({ timetable }) => timetable.crossings.latest);
  readonly line = injectReading(({ timetable }) => timetable.line.latest);
  readonly isLoading = injectReading(({ timetable }) => timetable.load.running.latest);
  readonly notice = injectReading(({ notices }) => notices.text.latest);
  readonly timetable = injectSenders().timetable;
  readonly report = inject(Said).report;
}
