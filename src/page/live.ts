/** What comes from an application that writes a live log. */
interface LiveMessage {
  readonly entry?: unknown;
  readonly backlog?: readonly unknown[];
}

/** The channel that applications send on, unless they are told of another. */
const channelName = 'leeshore-timeline';

/** A channel, or one end of it. */
interface Port {
  onmessage: ((event: MessageEvent<LiveMessage | null>) => void) | null;
  postMessage(message: unknown): void;
}

/**
 * Listens to an application: on a channel of the same origin, or on a port that the page which opened this one hands over.
 * `received`: what came; `isWhole`: all so far, in place of what was there.
 */
export function listenLive(
  received: (entries: readonly unknown[], isWhole: boolean) => void,
): void {
  const listen = (port: Port): void => {
    port.onmessage = ({ data }) => {
      if (data?.backlog !== undefined) received(data.backlog, true);
      else if (data?.entry !== undefined) received([data.entry], false);
    };
    port.postMessage({ asks: 'backlog' });
  };
  if ('BroadcastChannel' in window) listen(new BroadcastChannel(channelName));
  window.addEventListener('message', ({ data, ports, source }) => {
    const [port] = ports;
    if (data === channelName && port !== undefined && source === window.opener) listen(port);
  });
}
