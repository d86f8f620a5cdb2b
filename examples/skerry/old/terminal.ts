// The ferry terminal as it was kept before: one object for everything, changed in place, with listeners.
// It has three mistakes, as such code has; the tutorial in docs/porting.md finds them.

export interface Car {
  number: string;
  plate: string;
  metres: number;
  lane: 'port' | 'centre' | 'starboard';
  state: 'waiting' | 'aboard';
  remark?: string;
}

type Topic = 'cars' | 'wind' | 'watch';

export class Terminal {
  cars: Car[] = [];
  capacity = 240;
  onHold: string | null = null;
  lanes = { metres: new Map<string, number>() };
  windSpeed = 0;
  lastGusts: number[] = [];
  windLimit = 18;
  officer: { name: string; rank: 'mate' | 'master' } | null = null;
  officerSince: number | null = null;
  changesOfWatch = 0;
  berth = 0;

  #listeners = new Map<Topic, Set<() => void>>();

  constructor(
    private newNumber: () => string,
    private clock: () => number,
  ) {}

  on(topic: Topic, listener: () => void) {
    if (!this.#listeners.has(topic)) this.#listeners.set(topic, new Set());
    this.#listeners.get(topic)!.add(listener);
    return () => this.#listeners.get(topic)!.delete(listener);
  }

  #emit(topic: Topic) {
    this.#listeners.get(topic)?.forEach((listener) => listener());
  }

  // Cars

  arrive(plate: string, metres: number, lane: Car['lane']) {
    if (this.onHold !== null) return false;
    this.cars.push({ number: this.newNumber(), plate, metres, lane, state: 'waiting' });
    this.lanes.metres.set(lane, (this.lanes.metres.get(lane) ?? 0) + metres);
    this.#emit('cars');
    return true;
  }

  driveOn(number: string) {
    if (!this.canBoard()) return false;
    const car = this.cars.find((c) => c.number === number && c.state === 'waiting');
    if (!car) return false;
    car.state = 'aboard';
    this.#emit('cars');
    return true;
  }

  driveOnAll(lane: Car['lane']) {
    for (const car of this.cars) if (car.lane === lane) car.state = 'aboard';
    this.#emit('cars');
    return true;
  }

  setPlate(number: string, plate: string) {
    if (plate.trim() === '') return false;
    const car = this.cars.find((c) => c.number === number);
    if (!car) return false;
    car.plate = plate.trim().toUpperCase();
    this.#emit('cars');
    return true;
  }

  sendAway(number: string) {
    const at = this.cars.findIndex((c) => c.number === number);
    if (at < 0 || this.cars[at]!.state === 'aboard') return false;
    this.cars.splice(at, 1);
    this.#emit('cars');
    return true;
  }

  emptyLane(lane: Car['lane']) {
    this.cars = this.cars.filter((c) => c.lane !== lane || c.state === 'aboard');
    this.lanes.metres.delete(lane);
    this.#emit('cars');
    return true;
  }

  /** The deck is measured anew: the value of a form field. */
  measureDeck(value: string | number) {
    if (Number(value) < this.metresAboard()) return false;
    this.capacity = value as number;
    this.#emit('cars');
    return true;
  }

  hold(why: string | null) {
    this.onHold = why;
    this.#emit('cars');
    return true;
  }

  sail() {
    if (!this.cars.some((c) => c.state === 'aboard')) return false;
    this.cars = this.cars.filter((c) => c.state === 'waiting');
    this.lanes.metres.clear();
    if (this.tooWindy()) this.onHold = `wind ${this.windSpeed} m/s`;
    this.#emit('cars');
    return true;
  }

  metresAboard() {
    return this.cars
      .filter((c) => c.state === 'aboard')
      .reduce((sum, c) => sum + c.metres, 0);
  }

  canBoard() {
    const isFull = this.capacity - this.metresAboard() < 4.5;
    return this.onHold === null && !isFull && !this.tooWindy() && this.officer !== null;
  }

  // Wind

  gust(speed: number) {
    this.windSpeed = speed;
    this.lastGusts.push(speed);
    if (this.lastGusts.length > 5) this.lastGusts.pop();
    this.#emit('wind');
    return true;
  }

  setWindLimit(limit: number) {
    this.windLimit = limit;
    this.#emit('wind');
    return true;
  }

  tooWindy() {
    return Math.max(this.windSpeed, ...this.lastGusts) > this.windLimit;
  }

  // The watch

  takeOver(officer: NonNullable<Terminal['officer']>) {
    if (this.officer !== null) return false;
    this.officer = officer;
    this.officerSince = this.clock();
    this.#emit('watch');
    return true;
  }

  relieve(officer: NonNullable<Terminal['officer']>) {
    if (this.officer === null || this.officer.name === officer.name) return false;
    this.officer = officer;
    this.officerSince = this.clock();
    this.changesOfWatch++;
    this.#emit('watch');
    return true;
  }

  goOff() {
    if (this.officer === null) return false;
    this.officer = null;
    this.officerSince = null;
    this.#emit('watch');
    return true;
  }

  // The berth

  makeFast(berth: number) {
    if (this.berth !== 0) return false;
    this.berth = berth;
    return true;
  }

  letGo() {
    this.berth = 0;
    return true;
  }
}
