// What takes long to load: each part when it is asked for.
export const loadEmitting = () => import('./emit.js');
export const loadFormatting = () => import('./format.js');
export const loadSkeleton = () => import('./participants/participant-skeleton.js');
export const loadLines = () => import('./participants/participant-lines.js');
export const loadLogged = () => import('./shared/logged.js');
