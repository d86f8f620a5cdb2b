// What takes long to load: each part when it is asked for. What arranges needs the compiler.
export const loadEmitting = () => import('./emit.js');
export const loadFormatting = () => import('./format.js');
export const loadSkeleton = () => import('./participants/participant-skeleton.js');
export const loadLines = () => import('./participants/participant-lines.js');
export const loadLogged = () => import('./shared/logged.js');
export const loadOneFile = () => import('./arranging/one-file.js');
export const loadJavaScript = () => import('./arranging/javascript.js');
export const loadUpdating = () => import('./arranging/update-participant.js');
