import { Injectable, signal } from '@angular/core';
import type { Outcome } from '../stores/observable/index.js';

/** Why the last action was refused. */
@Injectable({ providedIn: 'root' })
export class Said {
  readonly text = signal('');

  readonly report = (outcome: Outcome): void => {
    this.text.set(outcome.status === 'refused' ? outcome.reason : '');
  };
}
