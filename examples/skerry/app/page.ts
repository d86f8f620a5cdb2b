import { manners, type Manner } from './office.js';
import type { Crossing, Lane, Vehicle } from './stores/reducer/types.js';
import type { Shown, Terminal } from './terminal.js';
import { withAtoms } from './with-atoms.js';
import { withProxy } from './with-proxy.js';
import { withReducer } from './with-reducer.js';
import { withStreams } from './with-streams.js';

type Outcome = ReturnType<Terminal['deeds']['depart']>;

const styles = {
  reducer: withReducer,
  atom: withAtoms,
  proxy: withProxy,
  observable: withStreams,
};

function byId(id: string): HTMLElement {
  const element = document.getElementById(id);
  if (element === null) throw new Error(`The page has no '${id}'.`);
  return element;
}

/** How the harbour office answers now. */
const manner = (): Manner =>
  manners.find((one) => one === (byId('office') as HTMLSelectElement).value) ?? 'quick';

let terminal = withReducer(manner);
let stop = () => {};
/** What is being done: the reason of what changes meanwhile. */
let doing = '';

/** Does a deed, and says so if it is refused. */
function run(name: string, deed: () => Outcome): void {
  doing = name;
  const outcome = deed();
  byId('said').textContent = outcome.status === 'refused' ? outcome.reason : '';
}

const text = (value: Shown[keyof Shown]): string =>
  typeof value === 'object' && value !== null
    ? `${value.length}`
    : String(value ?? 'nothing');

function note(name: string, now: Shown[keyof Shown]): void {
  const line = document.createElement('li');
  const why = document.createElement('em');
  why.textContent = doing;
  line.append(why, `${name}: ${text(now)}`);
  byId('timeline').prepend(line);
}

function vehicle({ id, plate, lengthM, lane }: Vehicle, ...deeds: readonly string[]): HTMLElement {
  const line = document.createElement('li');
  const what = document.createElement('span');
  what.textContent = `${plate} · ${lengthM} m · ${lane}`;
  line.append(
    what,
    ...deeds.map((deed) => {
      const button = document.createElement('button');
      button.textContent = deed;
      button.dataset['deed'] = deed;
      button.dataset['id'] = id;
      return button;
    }),
  );
  return line;
}

function crossing({ to, leaves, free }: Crossing): HTMLElement {
  const line = document.createElement('li');
  const what = document.createElement('span');
  what.textContent = `${leaves} to ${to}`;
  line.append(what, free === 0 ? 'full' : `${free} places`);
  return line;
}

const draw: { readonly [K in keyof Shown]: (value: Shown[K]) => void } = {
  waiting(vehicles) {
    byId('waiting').replaceChildren(...vehicles.map((one) => vehicle(one, 'board', 'turn away')));
  },
  onBoard(vehicles) {
    byId('onBoard').replaceChildren(...vehicles.map((one) => vehicle(one)));
  },
  capacityM: (metres) => (byId('capacityM').textContent = String(metres)),
  freeM: (metres) => (byId('freeM').textContent = String(metres)),
  hold: () => {},
  boarding() {
    const { boarding, hold } = terminal.show();
    byId('boarding').textContent = boarding ? 'boarding' : `no boarding${hold === null ? '' : `: ${hold}`}`;
  },
  wind: (speed) => (byId('wind').textContent = String(speed)),
  mood: (mood) => (byId('mood').textContent = mood),
  onWatch: (who) => (byId('onWatch').textContent = who),
  berth: (number) => (byId('berth').textContent = String(number)),
  sailings: (count) => (byId('sailings').textContent = String(count)),
  day: (day) => (byId('day').textContent = day ?? 'no day'),
  crossings(all) {
    byId('crossings').replaceChildren(...all.map(crossing));
  },
  line(line) {
    byId('line').textContent = line;
    byId('line').className = terminal.show().loading ? 'faint' : '';
  },
  loading(isLoading) {
    byId('cancelLoad').hidden = !isLoading;
  },
  notice: (notice) => (byId('notice').textContent = notice ?? ''),
  called: (lanes) => (byId('called').textContent = lanes.join(', ') || 'none yet'),
  planNote: (said) => ((byId('planNote') as HTMLInputElement).value = said),
  canUndo: (can) => ((byId('undo') as HTMLButtonElement).disabled = !can),
  canRedo: (can) => ((byId('redo') as HTMLButtonElement).disabled = !can),
  largeType: (isLarge) => document.body.classList.toggle('large', isLarge),
  firstLane(lane) {
    (byId('firstLane') as HTMLSelectElement).value = lane;
    (byId('lane') as HTMLSelectElement).value = lane;
  },
  due(euros) {
    byId('due').textContent = euros === null ? 'closed' : `${euros} EUR due on board`;
    byId('openTariff').hidden = euros !== null;
    byId('raise').hidden = euros === null;
  },
};

/** Opens the terminal with stores of another style: as it is in the morning. */
function open(style: keyof typeof styles): void {
  stop();
  terminal.close();
  terminal = styles[style](manner);
  byId('timeline').replaceChildren();
  byId('said').textContent = '';
  const shown = terminal.show();
  for (const name of Object.keys(draw) as (keyof Shown)[]) draw[name](shown[name] as never);
  stop = terminal.watch((name, now) => {
    draw[name](now as never);
    if (name === 'hold') draw.boarding(terminal.show().boarding);
    note(name, now as Shown[keyof Shown]);
  });
}

/** What the buttons do that are no form of their own. */
const deeds: Readonly<Record<string, (id: string) => Outcome>> = {
  board: (id) => terminal.deeds.board(id),
  'turn away': (id) => terminal.deeds.turnAway(id),
  depart: () => terminal.deeds.depart(),
  hold: () => terminal.deeds.holdFor(terminal.show().hold === null ? 'fog' : null),
  gust: () => terminal.deeds.measure(22),
  sign: () =>
    terminal.show().onWatch === 'nobody'
      ? terminal.deeds.signIn({ name: 'Inga', rank: 'master' })
      : terminal.deeds.signOut(),
  today: () => terminal.deeds.load('today'),
  tomorrow: () => terminal.deeds.load('tomorrow'),
  cancel: () => terminal.deeds.cancelLoad(),
  port: () => terminal.deeds.callLane('port'),
  centre: () => terminal.deeds.callLane('centre'),
  starboard: () => terminal.deeds.callLane('starboard'),
  undo: () => terminal.deeds.undo(),
  redo: () => terminal.deeds.redo(),
  enlarge: () => terminal.deeds.enlarge(),
  raise: () => terminal.deeds.raise(),
  moor: () => (terminal.show().berth === 0 ? terminal.deeds.moor(2) : terminal.deeds.castOff()),
};

document.addEventListener('click', ({ target }) => {
  if (!(target instanceof HTMLElement)) return;
  const { deed = '', id = '' } = target.dataset;
  const act = deeds[deed];
  if (act !== undefined) run(deed, () => act(id));
});

byId('openTariff').addEventListener('click', () => {
  doing = 'tariff desk';
  terminal.deeds.openTariff().then(
    (outcome) => {
      run(doing, () => outcome);
    },
    () => {
      byId('said').textContent = 'The tariff desk cannot be loaded.';
    },
  );
});

byId('planNote').addEventListener('input', ({ target }) => {
  run('note', () => terminal.deeds.write((target as HTMLInputElement).value));
});

byId('firstLane').addEventListener('change', ({ target }) => {
  run('first lane', () => terminal.deeds.preferLane((target as HTMLSelectElement).value as Lane));
});

function field(form: FormData, name: string): string {
  const value = form.get(name);
  return typeof value === 'string' ? value : '';
}

byId('admit').addEventListener('submit', (event) => {
  event.preventDefault();
  const form = new FormData(event.target as HTMLFormElement);
  const lane = field(form, 'lane') as Vehicle['lane'];
  const lengthM = Number(field(form, 'lengthM'));
  const plate = field(form, 'plate');
  run('admit', () => terminal.deeds.admit({ plate, lengthM, lane }));
});

byId('stretch').addEventListener('submit', (event) => {
  event.preventDefault();
  const metres = field(new FormData(event.target as HTMLFormElement), 'metres');
  run('measure', () => terminal.deeds.stretch(metres));
});

const chooser = byId('styles');
for (const style of Object.keys(styles)) {
  const label = document.createElement('label');
  const radio = document.createElement('input');
  Object.assign(radio, { type: 'radio', name: 'style', value: style, checked: style === 'reducer' });
  label.append(radio, ` ${style}`);
  chooser.append(label);
}
chooser.addEventListener('change', ({ target }) => {
  open((target as HTMLInputElement).value as keyof typeof styles);
});

open('reducer');
