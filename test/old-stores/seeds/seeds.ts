/* search box and basket of the seed page */
const BASE = '/catalogue';

export type Sort = { code: string; name: string; grams: number };

export const state = () => ({
  text: '', only: 'all' as 'all' | 'organic', hits: [] as Sort[], busy: false, problem: null as string | null,
  bags: {} as Record<string, number>, sending: false, receipt: null as string | null,
});

export function seedPage() {
  let s = state();
  let timer: any;
  let running: AbortController | undefined;
  let asked = '';

  const put = (patch: Partial<typeof s>) => { s = { ...s, ...patch }; };

  function question() {
    const text = s.text.trim();
    return text.length < 2 ? null : { text, only: s.only };
  }

  // only a question that is another one counts
  function changed() {
    const q = question();
    const key = q ? JSON.stringify(q) : '';
    if (key === asked) return;
    asked = key;
    clearTimeout(timer);
    running?.abort();
    running = undefined;
    if (!q) return put({ busy: false });
    put({ busy: true });
    timer = setTimeout(() => find(q), 250);
  }

  async function find(q: { text: string; only: string }) {
    const own = (running = new AbortController());
    try {
      const response = await fetch(`${BASE}/search?${new URLSearchParams(q)}`, { signal: own.signal });
      const body = await response.json();
      if (!response.ok) throw new Error(body.message);
      if (own.signal.aborted) return;
      put({ hits: body, busy: false, problem: null });
    } catch (e: any) {
      if (own.signal.aborted) return;
      put({ hits: [], busy: false, problem: e.message });
    }
  }

  return {
    get: () => s,
    question,
    type(text: string) { put({ text }); changed(); },
    narrow(only: 'all' | 'organic') { put({ only }); changed(); },
    add(code: string) {
      if (s.sending || !s.hits.some((h) => h.code === code)) return false;
      const n = Object.hasOwn(s.bags, code) ? s.bags[code]! : 0;
      put({ bags: Object.fromEntries([...Object.entries(s.bags), [code, n + 1]]) });
      return true;
    },
    takeOut(code: string) {
      if (s.sending || !Object.hasOwn(s.bags, code)) return false;
      const n = s.bags[code]!;
      const rest = Object.entries(s.bags).flatMap(([k, m]) => (k !== code ? [[k, m]] : n > 1 ? [[k, n - 1]] : []));
      put({ bags: Object.fromEntries(rest) });
      return true;
    },
    count: () => Object.values(s.bags).reduce((a, b) => a + b, 0),
    order() {
      if (s.sending || Object.keys(s.bags).length === 0) return false;
      put({ sending: true, receipt: null });
      fetch(`${BASE}/order`, { method: 'POST', body: JSON.stringify(s.bags) })
        .then(async (response) => {
          if (!response.ok) throw new Error(String(response.status));
          put({ sending: false, bags: {}, receipt: await response.json() });
        })
        .catch(() => put({ sending: false }));
      return true;
    },
  };
}
