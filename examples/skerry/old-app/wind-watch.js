// The wind. JavaScript of long ago.

import * as session from './session';
import { describeWind } from './describe.js';

const { terminal } = session;

export function onGust(speed) {
  session.terminal.gust(speed);
  if (terminal.tooWindy()) document.title = describeWind(terminal);
}

export function limits() {
  return { speed: terminal.windSpeed, limit: terminal.windLimit };
}
