// The search, and the catalogue of faults with what plants them: each when it is asked for.
export const loadComparing = () => import('./compare.js');
export const loadSummary = () => import('./summary.js');
export const loadCodeFaults = () => import('./faults/code-faults.js');
export const loadModelFaults = () => import('./faults/model-faults.js');
export const loadChoice = () => import('./faults/choose.js');
export const loadPlanting = () => import('./faults/plant.js');
