import { EventEmitter } from 'node:events';

// Three things that know nothing of each other, and a bus.
export class Theatre {
  bus = new EventEmitter();
  stage = new Stage(this.bus);
  box = new Box(this.bus);
  bell = new Bell(this.bus, this.box);
}

class Stage {
  play = null; running = false; act = 0;
  constructor(bus) { this.bus = bus; }
  announce(play) { if (this.running) return false; this.play = play; this.act = 0; return true; }
  begin() {
    if (this.play === null || this.running) return false;
    this.running = true;
    this.act = 1;
    this.bus.emit('begin');
    return true;
  }
  nextAct() {
    if (!this.running || this.act >= 5) return false;
    this.act += 1;
    this.bus.emit('act', this.act);
    return true;
  }
  end() {
    if (!this.running) return false;
    Object.assign(this, { running: false, act: 0, play: null });
    this.bus.emit('end');
    return true;
  }
}

class Box {
  seats = new Map([['a1', null], ['a2', null], ['b1', null]]);
  open = true; sold = 0;
  constructor(bus) {
    this.bus = bus;
    bus.on('begin', () => { this.open = false; });
    bus.on('end', () => {
      for (const place of this.seats.keys()) this.seats.set(place, null);
      this.open = true;
    });
  }
  sell(place, guest) {
    if (!this.open || this.seats.get(place) !== null) return false;
    this.seats.set(place, guest);
    this.sold++;
    this.bus.emit('sold', this.left);
    return true;
  }
  giveBack(place) {
    if (!this.open || (this.seats.get(place) ?? null) === null) return false;
    this.seats.set(place, null);
    return true;
  }
  get left() { return [...this.seats.values()].filter((guest) => guest === null).length; }
  get list() { return [...this.seats].map(([place, guest]) => ({ place, guest })); }
}

class Bell {
  rung = 0; last = null;
  constructor(bus) {
    bus.on('begin', () => this.ring('begin', 3));
    bus.on('act', (act) => this.ring(`act ${act}`));
    bus.on('sold', (left) => { if (left === 0) this.ring('sold out'); });
  }
  ring(why = 'by hand', times = 1) { this.rung += times; this.last = why; }
}
