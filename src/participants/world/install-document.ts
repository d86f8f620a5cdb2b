import { createRequire } from 'node:module';
import { thrownText } from '../../base/thrown-text.js';
import { LoadError } from '../load-error.js';
import { current } from './world.js';

/** What is used of a document: the package `jsdom`, of the user's project. */
interface Jsdom {
  readonly JSDOM: new (
    html: string,
    options: object,
  ) => { readonly window: Window & Readonly<Record<string, unknown>> };
}

interface Window {
  readonly document: {
    title: string;
    readonly documentElement: PageElement;
    readonly head: PageElement;
    readonly body: PageElement;
  };
}

interface PageElement {
  getAttributeNames(): readonly string[];
  removeAttribute(name: string): void;
  replaceChildren(): void;
}

/** The page is made once for a thread: that takes long. Each run begins with an empty one. */
let page: Window['document'] | undefined;

/** These work with what is in a document, or are the stand-ins of a comparison already. */
const ofDocument = new Set(['Event', 'CustomEvent', 'EventTarget', 'MessageEvent']);

/** Empties the page, if there is one. */
export function clearDocument(): void {
  if (page === undefined) return;
  page.title = '';
  for (const part of [page.documentElement, page.head, page.body])
    for (const name of part.getAttributeNames()) part.removeAttribute(name);
  page.head.replaceChildren();
  page.body.replaceChildren();
}

/**
 * Puts `window`, `document` and what belongs to them into the global places, for old code that asks for a document. `file` is the
 * participant file, beside which `jsdom` is looked for, and `at` its full path. Throws {@link LoadError}.
 */
export function installDocument(file: string, at: string): void {
  if (page !== undefined) return clearDocument();
  const { JSDOM } = requireJsdom(file, at);
  const { window } = new JSDOM('<!doctype html><title></title>', {
    url: 'http://localhost/',
    pretendToBeVisual: false,
  });
  page = window.document;
  const given: Record<string, unknown> = { window, self: window, matchMedia };
  for (const name of Object.getOwnPropertyNames(window))
    if (!(name in globalThis) || ofDocument.has(name)) given[name] ??= Reflect.get(window, name);
  for (const [name, value] of Object.entries(given))
    Object.defineProperty(globalThis, name, { configurable: true, writable: true, value });
  for (const name of standIns)
    Object.defineProperty(window, name, {
      configurable: true,
      writable: true,
      value: Reflect.get(globalThis, name),
    });
  for (const [name, storage] of Object.entries(storages))
    Object.defineProperty(window, name, { configurable: true, get: storage });
}

/** What is a stand-in in the global places is one in the window too. */
const standIns = [
  ...['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'fetch', 'Date', 'matchMedia'],
  ...['requestAnimationFrame', 'cancelAnimationFrame'],
];

const storages = {
  localStorage: () => current().storage,
  sessionStorage: () => current().ofSession,
};

/** A screen about which nothing is known, and which never changes. */
const matchMedia = (media: string) => ({
  media,
  matches: false,
  onchange: null,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
  addListener: () => undefined,
  removeListener: () => undefined,
});

function requireJsdom(file: string, at: string): Jsdom {
  try {
    return createRequire(at)('jsdom') as Jsdom;
  } catch (error) {
    const isMissing = (error as { code?: unknown }).code === 'MODULE_NOT_FOUND';
    throw new LoadError(
      file,
      isMissing
        ? "it asks for a document, and the package 'jsdom' is not there: npm install --save-dev jsdom"
        : `jsdom cannot be used (${thrownText(error)})`,
    );
  }
}
