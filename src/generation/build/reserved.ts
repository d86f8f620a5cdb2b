import reservedIdentifiers from 'reserved-identifiers';

const reserved = reservedIdentifiers({ includeGlobalProperties: true });

/** True if a word cannot stand as an identifier in the strict code of a module. */
export const isReserved = (word: string): boolean => reserved.has(word);

/** 'setCapacity' as 'SetCapacity'. */
export function pascal(name: string): string {
  return name.charAt(0).toUpperCase() + name.slice(1);
}

/** 'SetCapacity' as 'setCapacity'. */
export function camel(name: string): string {
  return name.charAt(0).toLowerCase() + name.slice(1);
}
