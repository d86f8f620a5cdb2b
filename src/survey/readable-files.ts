/** The endings of files that a survey can read. */
export const readableFiles = /\.([cm]?[jt]sx?|vue|svelte)$/;
