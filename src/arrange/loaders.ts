// All of it needs the compiler, and loads when it is asked for.
export const loadOneFile = () => import('./one-file.js');
export const loadJavaScript = () => import('./javascript.js');
export const loadUpdating = () => import('./update-participant.js');
