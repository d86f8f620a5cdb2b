import { ref, shallowRef } from 'vue';
import type { Manner } from '../office.js';
import { createStores, liveLog, type Outcome } from '../stores/proxy/index.js';
import { environment } from '../terminal.js';

/** How the harbour office answers now. */
export const manner = shallowRef<Manner>('quick');

export const stores = createStores({ ...environment(() => manner.value), log: liveLog() });

/** Why the last action was refused. */
export const said = ref('');

export function report(outcome: Outcome): void {
  said.value = outcome.status === 'refused' ? outcome.reason : '';
}
