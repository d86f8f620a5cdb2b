// Who is on watch.

import { terminal } from './session';
import { stores } from './stores';

export function takeWatch(name: string): void {
  if (terminal.officer) terminal.relieve({ name, rank: 'mate' });
  else terminal.takeOver({ name, rank: 'mate' });
}

export const onWatch = () => stores.desk.title;

export function endWatch(): void {
  stores.desk.signOut();
}

export function changes(): string {
  return `${terminal.changesOfWatch} changes since ${terminal.officerSince}`;
}
