// undo by hand: whole sheets are kept
const MOST = 4;

export class Sketch {
  #sheet = { dots: [], name: '' };
  #past = [];
  #future = [];
  #typing = false;
  colour = 'ink';

  get dots() { return this.#sheet.dots; }
  get name() { return this.#sheet.name; }
  get canUndo() { return this.#past.length > 0; }
  get canRedo() { return this.#future.length > 0; }

  #commit(change, typing = false) {
    const next = { ...this.#sheet, ...change };
    const same = next.name === this.#sheet.name && JSON.stringify(next.dots) === JSON.stringify(this.#sheet.dots);
    if (same) return;
    if (!(typing && this.#typing && this.#past.length > 0)) {
      this.#past.push(this.#sheet);
      if (this.#past.length > MOST) this.#past.shift();
    }
    this.#future = [];
    this.#sheet = next;
    this.#typing = typing;
  }

  draw(at) {
    const dot = { at, colour: this.colour };
    const i = this.dots.findIndex((d) => d.at === at);
    this.#commit({ dots: i < 0 ? [...this.dots, dot] : this.dots.map((d, j) => (j === i ? dot : d)) });
  }

  wipe(at) {
    if (!this.dots.some((d) => d.at === at)) return false;
    this.#commit({ dots: this.dots.filter((d) => d.at !== at) });
    return true;
  }

  rename(name) { this.#commit({ name }, true); }

  clear() {
    if (this.dots.length === 0) return false;
    this.#commit({ dots: [] });
    return true;
  }

  undo() {
    if (!this.canUndo) return false;
    this.#future.push(this.#sheet);
    this.#sheet = this.#past.pop();
    this.#typing = false;
    return true;
  }

  redo() {
    if (!this.canRedo) return false;
    this.#past.push(this.#sheet);
    this.#sheet = this.#future.pop();
    this.#typing = false;
    return true;
  }

  use(colour) { this.colour = colour; }
}
