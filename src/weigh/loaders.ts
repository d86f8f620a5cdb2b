// What weighs: it needs a bundler, and loads when it is asked for.
export const loadWeighing = () => import('./weigh.js');
export const loadStyleWeight = () => import('./style-weight.js');
