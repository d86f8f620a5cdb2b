// The TypeScript compiler, in place of the package: since version 7 the package has no functions that others can call, and version
// 6 stands beside it under another name. Where neither is there, it is found missing when it is used.
const isUsable = (module) => typeof module?.default?.createProgram === 'function';

const own = await import('typescript').catch(() => undefined);
const beside = isUsable(own) ? own : await import('typescript-6').catch(() => undefined);

export default (isUsable(beside) ? beside : own)?.default;
