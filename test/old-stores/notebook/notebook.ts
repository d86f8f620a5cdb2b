type Note = { id: string; text: string; pinned: boolean };

const isNote = (n: any): n is Note =>
  n !== null && typeof n === 'object' && Object.keys(n).length === 3 && typeof n.id === 'string' &&
  typeof n.text === 'string' && [...n.text].length <= 40 && typeof n.pinned === 'boolean';

function load(key: string): any {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null');
  } catch {
    return null;
  }
}

function save(key: string, version: number, fields: object) {
  try {
    localStorage.setItem(key, JSON.stringify({ version, fields }));
  } catch {
    /* full, or private */
  }
}

export class Notebook {
  notes: Note[] = [];
  draft = '';
  seen = 0;

  constructor() {
    const kept = load('field-notes');
    let notes = kept?.fields?.notes;
    if (kept?.version === 1 && Array.isArray(notes)) {
      if (!notes.every((n: any) => n !== null && typeof n === 'object')) return;
      notes = notes.map((n: any) => ({ id: n.id, text: n.text, pinned: false }));
    }
    else if (kept?.version !== 2) return;
    if (!Array.isArray(notes) || !notes.every(isNote)) return;
    if (new Set(notes.map((n) => n.id)).size < notes.length) return;
    this.notes = notes;
  }

  keep(): boolean {
    const text = this.draft.trim();
    if (text === '') return false;
    this.notes = [{ id: crypto.randomUUID(), text, pinned: false }, ...this.notes];
    this.draft = '';
    this.save();
    return true;
  }

  pin(id: string): boolean {
    if (!this.notes.some((n) => n.id === id)) return false;
    this.notes = this.notes.map((n) => (n.id === id ? { ...n, pinned: !n.pinned } : n));
    this.save();
    return true;
  }

  tear(id: string): boolean {
    const note = this.notes.find((n) => n.id === id);
    if (!note || note.pinned) return false;
    this.notes = this.notes.filter((n) => n !== note);
    this.seen++;
    this.save();
    return true;
  }

  private save() {
    save('field-notes', 2, { notes: this.notes });
  }
}

export class Look {
  dark = false;
  size = 14;

  constructor() {
    const kept = load('field-look');
    if (kept?.version !== 1 || kept.fields === null || typeof kept.fields !== 'object') return;
    const { dark = false, size = 14 } = kept.fields;
    if (typeof dark !== 'boolean' || !Number.isInteger(size) || size < 10 || size > 24) return;
    this.dark = dark;
    this.size = size;
  }

  set(change: Partial<Pick<Look, 'dark' | 'size'>>) {
    const { dark, size } = { ...this, ...change };
    if (dark === this.dark && size === this.size) return;
    Object.assign(this, { dark, size });
    save('field-look', 1, { dark, size });
  }
}
