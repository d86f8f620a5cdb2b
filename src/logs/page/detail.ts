import { atPointer } from '../../base/json.js';
import { causeTexts, doneText, pathText, timeText } from '../log/line-texts.js';
import type { PatchOperation } from '../log/log-lines.js';
import { element, part } from './element.js';
import type { LogData } from './log-data.js';
import { shortened } from './shortened.js';
import { openTo, stateTree, textOf, type Column } from './state-tree.js';

/** What the panel needs to know. */
export interface DetailHost {
  readonly data: LogData;
  /** The states of others side by side, by name, in a comparison. */
  readonly others: readonly { readonly name: string; readonly data: LogData }[];
  readonly name: string;
  readonly select: (at: number) => void;
}

/** One transaction in full, and the state at that moment. */
export class Detail {
  readonly #host: DetailHost;
  readonly #about = part('about');
  readonly #state = part('state');
  readonly #open = new Set<string>();
  /** The moment that is held against the one that is seen. */
  pinned: number | undefined;

  constructor(host: DetailHost) {
    this.#host = host;
  }

  show(at: number): void {
    const { data } = this.#host;
    const row = data.rows[at];
    if (row === undefined) {
      this.#about.replaceChildren(element('p', { class: 'quiet' }, 'Select a transaction.'));
      this.#state.replaceChildren();
      return;
    }
    const { line, turn } = row;
    const title = element('h2', {}, `${turn}  ${doneText(line)}`);
    const outcome = `${line.outcome ?? ''}${line.reason === undefined ? '' : `: ${line.reason}`}`;
    const parts: Node[] = [
      title,
      element(
        'p',
        { class: `outcome ${line.outcome ?? ''}` },
        outcome,
        this.#placeText(line.place),
      ),
      element('p', { class: 'quiet' }, ...this.#whenText(at)),
    ];
    parts.push(...this.#otherOutcomes(at, outcome));
    if (line.payload !== undefined) parts.push(block('Payload', valueOf(line.payload)));
    if (line.included !== undefined) parts.push(block('Included', listOf(line.included)));
    if (line.changes !== undefined)
      parts.push(block('Changed', this.#changes(line.changes, data.stateBefore(at))));
    const told = [...(line.notified ?? [])];
    if (line.others !== undefined) told.push(`${line.others} without a name`);
    if (told.length > 0) parts.push(block('Watchers called', listOf(told)));
    const caused = data.causedBy(at);
    if (caused.length > 0) parts.push(block('Set off', ...caused.map((one) => this.#link(one))));
    if (line.draws !== undefined) parts.push(block('Drawn', valueOf(line.draws)));
    if (line.calls !== undefined)
      parts.push(
        block(
          'Calls made',
          listOf(line.calls.map(({ call, operation }) => `${call} ${operation}`)),
        ),
      );
    this.#about.replaceChildren(...parts);
    this.#showState(at);
  }

  /** Its outcome with the others, in a comparison, where that is something else. */
  #otherOutcomes(at: number, own: string): readonly Node[] {
    return this.#host.others.flatMap(({ name, data }) => {
      const { outcome, reason } = data.rows[at]?.line ?? {};
      const said = `${outcome ?? ''}${reason === undefined ? '' : `: ${reason}`}`;
      if (outcome === undefined || said === own) return [];
      return [element('p', { class: 'broken' }, `${name}: ${said}`)];
    });
  }

  #placeText(place: string | undefined): string {
    return place === undefined ? '' : ` (${place})`;
  }

  #whenText(at: number): readonly (Node | string)[] {
    const { data } = this.#host;
    const { line, session } = data.rows[at] ?? { line: { do: '' }, session: 0 };
    const began = data.heads[session]?.began;
    const clock =
      began === undefined || line.at === undefined
        ? timeText(line.at)
        : new Date(Date.parse(began) + line.at)
            .toISOString()
            .replace('T', ' ')
            .replace('Z', ' UTC');
    const by = causeTexts[line.by ?? 'outside'];
    const cause = data.causeOf(at);
    const run = line.run === undefined ? '' : `, run ${line.run}`;
    const call = line.call === undefined ? '' : `, call ${line.call}`;
    const texts = `${clock === '' ? '' : `${clock}, `}${by}${run}${call}`;
    return cause === undefined ? [texts] : [`${texts}, after `, this.#link(cause)];
  }

  #link(at: number): HTMLElement {
    const row = this.#host.data.rows[at];
    const text = row === undefined ? '' : `${row.turn} ${doneText(row.line)}`;
    return element(
      'button',
      {
        type: 'button',
        class: 'link',
        click: () => {
          this.#host.select(at);
        },
      },
      text,
    );
  }

  #changes(changes: readonly PatchOperation[], before: unknown): HTMLElement {
    const rows = changes.map((change) => {
      const old = change.op === 'add' ? undefined : atPointer(before, change.path);
      const now = change.op === 'remove' ? undefined : change.value;
      return element(
        'tr',
        {},
        element('th', { scope: 'row' }, pathText(change.path)),
        element('td', {}, old === undefined ? 'new' : textOf(old)),
        element('td', {}, now === undefined ? 'gone' : textOf(now)),
      );
    });
    return element('table', { class: 'changes' }, element('tbody', {}, ...rows));
  }

  #showState(at: number): void {
    const { data, others, name } = this.#host;
    const places = data.placesOf(at);
    openTo(this.#open, places);
    const columns: Column[] = [{ title: name, value: data.stateAt(at) }];
    for (const other of others) columns.push({ title: other.name, value: other.data.stateAt(at) });
    const { pinned } = this;
    if (pinned !== undefined && others.length === 0) {
      columns.unshift({
        title: `turn ${data.rows[pinned]?.turn ?? 0}`,
        value: data.stateAt(pinned),
      });
      columns[1] = { title: `turn ${data.rows[at]?.turn ?? 0}`, value: data.stateAt(at) };
    }
    part('state-title').textContent =
      pinned !== undefined && others.length === 0
        ? 'Then and now'
        : others.length > 0
          ? 'State after it, side by side'
          : 'State after it';
    const note = (place: string): Node | undefined => {
      if (columns.length > 1) return undefined;
      const last = data.lastChangeOf(place, at);
      if (last === undefined) return undefined;
      const turn = data.rows[last]?.turn ?? 0;
      const title = `Last changed at turn ${turn}`;
      return element(
        'button',
        {
          type: 'button',
          class: 'when',
          title,
          'aria-label': title,
          click: (event: Event) => {
            event.preventDefault();
            this.#host.select(last);
          },
        },
        `@${turn}`,
      );
    };
    const isUnknown = columns.every(({ value }) => value === undefined);
    this.#state.replaceChildren(
      isUnknown
        ? element('p', { class: 'quiet' }, 'The log does not say what the state was.')
        : stateTree(columns, { marked: places, open: this.#open, note }),
    );
  }
}

const block = (title: string, ...children: readonly Node[]): HTMLElement =>
  element('section', { class: 'block' }, element('h3', {}, title), ...children);

const listOf = (texts: readonly string[]): HTMLElement =>
  element('ul', {}, ...texts.map((text) => element('li', {}, text)));

/** How much of a payload is shown. */
const mostOfValue = 4000;

const valueOf = (value: unknown): HTMLElement =>
  element(
    'pre',
    {},
    shortened(JSON.stringify(value, null, typeof value === 'object' ? 1 : 0), mostOfValue),
  );
