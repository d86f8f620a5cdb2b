/** What an element is given: attributes, and what is called for events. */
type Given = Readonly<
  Record<string, string | number | boolean | ((event: never) => void) | undefined>
>;

/**
 * Makes an element. Texts become text nodes: nothing from a log is ever taken as markup. Functions listen to the event of
 * their name; `true` sets an attribute without a value, `false` and `undefined` none.
 */
export function element<Name extends keyof HTMLElementTagNameMap>(
  name: Name,
  given: Given = {},
  ...children: readonly (Node | string)[]
): HTMLElementTagNameMap[Name] {
  const made = document.createElement(name);
  for (const [key, value] of Object.entries(given)) {
    if (typeof value === 'function') made.addEventListener(key, value as EventListener);
    else if (value !== undefined && value !== false)
      made.setAttribute(key, value === true ? '' : String(value));
  }
  made.append(...children);
  return made;
}

/** An element that the page has. */
export function part<T extends HTMLElement = HTMLElement>(id: string): T {
  const found = document.getElementById(id);
  if (found === null) throw new Error(`the page has no '${id}'`);
  return found as T;
}
