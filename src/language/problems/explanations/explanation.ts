/** What `explain` says of a code besides its message: a rule, why it is there, and a schema that breaks it and one that keeps it. */
export interface Explanation {
  readonly rule: string;
  readonly why: string;
  readonly wrong: string;
  readonly right: string;
}

/** A schema of one store, 'deck', of what stands in it. */
export function deck(body: string, types = ''): string {
  const section = types === '' ? '' : `types:\n${indented(types, 2)}\n`;
  return `leeshore: 1\n${section}stores:\n  deck:\n${indented(body, 4)}\n`;
}

function indented(text: string, by: number): string {
  return text.trim().replace(/^(?=.)/gm, ' '.repeat(by));
}

export const capacity = 'state: { capacityM: { type: number, default: 240 } }';
export const hold = 'state: { hold: { maybe: string } }';
export const vehicles = 'state: { vehicles: { list: Vehicle, by: id } }';
export const vehicle = 'Vehicle: { fields: { id: string, lengthM: number } }';
