import { isObject } from '../../base/json.js';

/** The channel that applications send on, unless they are told of another. */
const channelName = 'leeshore-timeline';

/** A channel, or one end of it. */
interface Port {
  onmessage: ((event: MessageEvent<unknown>) => void) | null;
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
      const { backlog, entry } = isObject(data) ? data : {};
      if (Array.isArray(backlog)) received(backlog, true);
      else if (entry !== undefined) received([entry], false);
      // What another tab asks, as this one does, is no entry.
      else if (!isObject(data) || data['asks'] === undefined) received([data], false);
    };
    port.postMessage({ asks: 'backlog' });
  };
  if ('BroadcastChannel' in window) listen(new BroadcastChannel(channelName));
  window.addEventListener('message', ({ data, ports, source }) => {
    const [port] = ports;
    if (data === channelName && port !== undefined && source === window.opener) listen(port);
  });
}
