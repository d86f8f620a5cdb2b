/** Who is told what a stream gives. */
export interface Listener {
  readonly next: (value: unknown) => void;
  readonly error: (error: unknown) => void;
  readonly end: (result: unknown) => void;
}

/** Something that gives many values: by the ECMAScript Observable contract, or as an async iterable. */
export type StreamOfValues =
  | { readonly kind: 'observable'; readonly subscribe: (observer: object) => unknown }
  | { readonly kind: 'iterable'; readonly iterate: () => AsyncIterator<unknown> };

/** The stream that a value is; `undefined` if it is none. */
export function streamIn(value: unknown): StreamOfValues | undefined {
  if ((typeof value !== 'object' || value === null) && typeof value !== 'function')
    return undefined;
  const symbol = (Reflect.get(Symbol, 'observable') as symbol | undefined) ?? '@@observable';
  const made = Reflect.get(value, symbol) as unknown;
  const source = typeof made === 'function' ? (made.call(value) as object) : value;
  const subscribe = Reflect.get(source, 'subscribe') as unknown;
  if (typeof subscribe === 'function')
    return {
      kind: 'observable',
      subscribe: (observer) => subscribe.call(source, observer) as unknown,
    };
  const iterate = Reflect.get(value, Symbol.asyncIterator) as unknown;
  if (typeof iterate !== 'function') return undefined;
  return { kind: 'iterable', iterate: () => iterate.call(value) as AsyncIterator<unknown> };
}

/** Listens to a stream up to its end; returns what ends it before. */
export function listen(stream: StreamOfValues, { next, error, end }: Listener): () => void {
  let isOver = false;
  const once =
    (tell: (value: unknown) => void) =>
    (value: unknown): void => {
      if (isOver) return;
      isOver = true;
      tell(value);
    };
  const [fail, complete] = [once(error), once(end)];
  if (stream.kind === 'observable') {
    let subscription: unknown;
    const stop = () => {
      isOver = true;
      if (typeof subscription === 'function') (subscription as () => void)();
      else (subscription as { unsubscribe?: () => void } | undefined)?.unsubscribe?.();
    };
    try {
      subscription = stream.subscribe({
        next: (value: unknown) => {
          if (!isOver) next(value);
        },
        error: fail,
        complete,
      });
    } catch (thrown) {
      fail(thrown);
    }
    return stop;
  }
  let iterator: AsyncIterator<unknown> | undefined;
  const go = (): void => {
    if (isOver || iterator === undefined) return;
    Promise.resolve(iterator.next()).then(({ done, value }) => {
      if (isOver) return;
      if (done === true) return complete(value);
      next(value);
      go();
    }, fail);
  };
  try {
    iterator = stream.iterate();
    go();
  } catch (thrown) {
    fail(thrown);
  }
  return () => {
    isOver = true;
    void Promise.resolve(iterator?.return?.()).catch(() => undefined);
  };
}
