type Phase = 'cold' | 'heating' | 'holding' | 'cooling';

export class Kiln {
  degrees = 20;
  goal = 0;
  phase: Phase = 'cold';
  door = false;
  beeps = 0;
  #heat?: ReturnType<typeof setInterval>;
  #cool?: ReturnType<typeof setInterval>;
  #hold?: ReturnType<typeof setTimeout>;

  fire(goal: number): boolean {
    if (this.phase !== 'cold' || this.door) return false;
    this.goal = goal;
    this.#enter('heating');
    return true;
  }

  stop(): boolean {
    if (this.phase !== 'heating' && this.phase !== 'holding') return false;
    this.#enter('cooling');
    return true;
  }

  openDoor(): boolean {
    if (this.degrees > 60 || this.door) return false;
    this.door = true;
    this.#enter('cold');
    return true;
  }

  closeDoor() {
    this.door = false;
  }

  get done() {
    return this.phase === 'cooling' && this.degrees <= 60;
  }

  #enter(phase: Phase) {
    clearInterval(this.#heat);
    clearInterval(this.#cool);
    clearTimeout(this.#hold);
    this.phase = phase;
    if (phase === 'heating')
      this.#heat = setInterval(() => {
        this.degrees = Math.min(this.goal, this.degrees + 200);
        if (this.degrees >= this.goal) this.#enter('holding');
      }, 1000);
    if (phase === 'holding')
      this.#hold = setTimeout(() => {
        this.beeps++;
        this.#enter('cooling');
      }, 5000);
    if (phase === 'cooling') this.#cool = setInterval(() => { this.degrees = Math.max(20, this.degrees - 150); }, 2000);
  }
}
