const reserved = new Set(
  (
    'arguments await break case catch class const continue debugger default delete do else enum eval export ' +
    'extends false finally for function if implements import in instanceof interface let new null package ' +
    'private protected public return static super switch this throw true try typeof undefined var void while with yield'
  ).split(' '),
);

/** Whether a word cannot stand as an identifier in the strict code of a module. */
export const isReserved = (word: string): boolean => reserved.has(word);

/** 'setCapacity' as 'SetCapacity'. */
export function pascal(name: string): string {
  return name.charAt(0).toUpperCase() + name.slice(1);
}

/** 'SetCapacity' as 'setCapacity'. */
export function camel(name: string): string {
  return name.charAt(0).toLowerCase() + name.slice(1);
}
