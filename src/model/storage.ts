/** Where stores keep what is saved; `localStorage` and `sessionStorage` of browsers have this shape. */
export interface SavedTexts {
  /** The text under a key; null if there is none. */
  getItem(key: string): string | null;
  setItem(key: string, text: string): void;
}
