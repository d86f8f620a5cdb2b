// The timetable of the old terminal: it asks the harbour office for the crossings of a day, and shows what comes.

export interface Crossing {
  id: string;
  to: string;
  leaves: string;
  free: number;
}

interface Shown {
  day: string | null;
  crossings: Crossing[];
  busy: boolean;
  problem: string | null;
}

const limitMs = 5000;
const againMs = 300;

const nothing = (): Shown => ({ day: null, crossings: [], busy: false, problem: null });

/** What went wrong, in words for the screen. */
class Trouble extends Error {
  readonly status: number | undefined;

  constructor(message: string, status?: number) {
    super(message);
    this.status = status;
  }
}

/** One request, which is given up after five seconds. */
async function ask(url: string): Promise<unknown> {
  const controller = new AbortController();
  const limit = setTimeout(() => {
    controller.abort(new Trouble('timeout'));
  }, limitMs);
  try {
    const response = await fetch(url, { signal: controller.signal });
    if (response.status === 404) throw new Trouble('No such day.', 404);
    if (!response.ok) throw new Trouble(`The office says ${response.status}.`, response.status);
    return await response.json();
  } finally {
    clearTimeout(limit);
  }
}

/** A request that is made once more if it fails, but for what the office does not know, or does not answer. */
async function askTwice(url: string): Promise<unknown> {
  try {
    return await ask(url);
  } catch (error) {
    if (error instanceof Trouble && (error.status === 404 || error.message === 'timeout')) throw error;
    await new Promise((resume) => setTimeout(resume, againMs));
    return ask(url);
  }
}

function crossingsIn(answer: unknown): Crossing[] {
  return (answer as Crossing[]).map(({ id, to, leaves, free }) => ({ id, to, leaves, free }));
}

export class OldTimetable {
  shown = nothing();

  /** Shows the crossings of a day, when they are there. */
  async load(day: string): Promise<void> {
    this.shown.day = day;
    this.shown.busy = true;
    this.shown.problem = null;
    try {
      const answer = await askTwice(`/office/crossings?day=${encodeURIComponent(day)}`);
      this.shown.crossings = crossingsIn(answer);
      this.shown.busy = false;
    } catch (error) {
      this.shown.problem = error instanceof Error ? error.message : String(error);
    }
  }

  /** Nobody looks at the timetable any more. */
  leave(): void {
    this.shown = nothing();
  }
}
