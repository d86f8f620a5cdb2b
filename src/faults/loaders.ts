// The catalogue of faults and what plants them, when they are asked for.
export const loadCodeFaults = () => import('./code-faults.js');
export const loadModelFaults = () => import('./model-faults.js');
export const loadChoice = () => import('./choose.js');
export const loadPlanting = () => import('./plant.js');
