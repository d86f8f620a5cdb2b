import { part } from './element.js';
import type { LogData } from './log-data.js';

/** What the strip needs to know. */
export interface StripHost {
  readonly data: LogData;
  readonly hueOf: (store: string) => number;
  /** True if a row is shown. */
  readonly isShown: (at: number) => boolean;
  readonly select: (at: number) => void;
}

/** How what failed is marked. */
export const markColours = { refused: '#d98a00', failed: '#d0342c' } as const;

/** All transactions over time, in a strip: coloured by store, with what was refused and what failed below. */
export class Strip {
  readonly #host: StripHost;
  readonly #canvas = part<HTMLCanvasElement>('strip');
  #selected = -1;
  #isDue = false;

  constructor(host: StripHost) {
    this.#host = host;
    this.#canvas.addEventListener('click', ({ offsetX }) => {
      const { rows } = this.#host.data;
      if (rows.length > 0) this.#host.select(this.#rowAt(offsetX / this.#canvas.clientWidth));
    });
    new ResizeObserver(() => {
      this.draw();
    }).observe(this.#canvas);
    matchMedia('(prefers-color-scheme: dark)').addEventListener('change', () => {
      this.draw();
    });
  }

  select(at: number): void {
    this.#selected = at;
    this.draw();
  }

  draw(): void {
    if (this.#isDue) return;
    this.#isDue = true;
    requestAnimationFrame(() => {
      this.#isDue = false;
      this.#drawNow();
    });
  }

  /** The beginning of a row, from 0 to 1: by time if all is of one session, else by place. */
  #shareOf(at: number): number {
    const { rows, heads } = this.#host.data;
    const [first, last] = [rows[0]?.line.at, rows.at(-1)?.line.at];
    const time = rows[at]?.line.at;
    if (heads.length < 2 && first !== undefined && last !== undefined && time !== undefined)
      return last === first ? 0 : (time - first) / (last - first);
    return at / Math.max(1, rows.length - 1);
  }

  #rowAt(share: number): number {
    const { rows } = this.#host.data;
    let [low, high] = [0, rows.length - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.#shareOf(middle) < share) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  #drawNow(): void {
    const { clientWidth, clientHeight } = this.#canvas;
    const ratio = devicePixelRatio;
    this.#canvas.width = clientWidth * ratio;
    this.#canvas.height = clientHeight * ratio;
    const context = this.#canvas.getContext('2d');
    if (context === null) return;
    context.scale(ratio, ratio);
    const isDark = matchMedia('(prefers-color-scheme: dark)').matches;
    const { rows } = this.#host.data;
    const band = clientHeight - 12;
    for (const [at, row] of rows.entries()) {
      const x = this.#shareOf(at) * (clientWidth - 3);
      context.globalAlpha = this.#host.isShown(at) ? 0.85 : 0.12;
      context.fillStyle = `hsl(${this.#host.hueOf(row.store)} ${isDark ? '55% 62%' : '60% 42%'})`;
      context.fillRect(x, 2, 2, band - 4);
      if (!row.hasFailed) continue;
      context.fillStyle = row.line.outcome === 'refused' ? markColours.refused : markColours.failed;
      context.fillRect(x, band, 3, 8);
    }
    context.globalAlpha = 1;
    if (this.#selected < 0) return;
    context.fillStyle = isDark ? '#ffffff' : '#000000';
    context.fillRect(this.#shareOf(this.#selected) * (clientWidth - 3) - 1, 0, 2, clientHeight);
  }
}
