// What runs searches and replays: each when it is asked for.
export const loadLocal = () => import('./start-local.js');
export const loadWorkers = () => import('./worker-executor.js');
export const loadFaultTrial = () => import('./try-faults.js');
export const loadReplaying = () => import('./replay-whole.js');
export const loadPlaying = () => import('./playing.js');
