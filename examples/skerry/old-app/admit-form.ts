// The form at the gate. Moved to the new stores.

import type { Lane } from './stores/proxy/index';
import { stores } from './stores';
import { terminal } from './session';

export function onSubmit(event: SubmitEvent): void {
  event.preventDefault();
  const form = new FormData(event.target as HTMLFormElement);
  const plate = String(form.get('plate'));
  const lane = String(form.get('lane')) as Lane;
  const outcome = stores.deck.admit({ plate, lengthM: Number(form.get('metres')), lane });
  if (outcome.status === 'refused') alert(outcome.reason);
}
