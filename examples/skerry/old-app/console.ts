// For the people who look after the page.

import { terminal } from './session';

declare global {
  interface Window {
    ferry: unknown;
  }
}

window.ferry = terminal;

export const raw = () => (terminal as any).queue;
