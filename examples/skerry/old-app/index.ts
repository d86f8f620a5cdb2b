// What other parts of the page import.

export { terminal as ferry } from './session';
export type { Car } from '../old/terminal';
