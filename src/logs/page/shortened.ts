/** How much of a text is shown at once. */
const mostText = 400;

/** A text that does not widen the page, with a count of what is left out. */
export const shortened = (text: string, most = mostText): string =>
  text.length <= most
    ? text
    : `${text.slice(0, most)}… (${(text.length - most).toLocaleString('en')} more characters)`;
