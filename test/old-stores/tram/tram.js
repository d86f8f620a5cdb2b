// A page script of long ago: it works on window, and draws once for each frame.
window.tram = window.tram || {};
const media = window.matchMedia('(min-width: 1200px)');

window.tram.open = function () {
  let stop = 'Harbour';
  try {
    const kept = JSON.parse(window.localStorage.getItem('tram-stop'));
    if (kept && kept.version === 1 && typeof kept.fields.stop === 'string' && [...kept.fields.stop].length <= 10) stop = kept.fields.stop;
  } catch (e) { /* begins at the harbour */ }
  const self = { stop, lines: [], large: media.matches, visits: 0, drawn: 0 };
  sessionStorage.setItem('visits', '0');
  let wanted = false;

  function draw() {
    wanted = false;
    self.drawn++;
    show(self.lines.length === 0 ? self.stop : '(' + self.lines.length + ') ' + self.stop);
  }
  // a title loses its blanks
  function show(text) {
    document.title = text;
    document.body.dataset.title = text;
  }
  function redraw() {
    if (wanted) return;
    wanted = true;
    requestAnimationFrame(draw);
  }
  show(self.stop);

  self.goTo = function (name) {
    if (name === '') return false;
    self.stop = name;
    self.lines = [];
    self.visits = Number(sessionStorage.getItem('visits')) + 1;
    sessionStorage.setItem('visits', String(self.visits));
    try {
      window.localStorage.setItem('tram-stop', JSON.stringify({ version: 1, fields: { stop: name } }));
    } catch (e) { /* not kept then */ }
    redraw();
    return true;
  };
  self.expect = function (line, minutes) {
    const at = self.lines.findIndex((l) => l.line === line);
    if (at < 0) self.lines.push({ line, minutes });
    else self.lines[at] = { line, minutes };
    redraw();
  };
  self.minute = function () {
    self.lines = self.lines.filter((l) => l.minutes > 0).map((l) => ({ line: l.line, minutes: l.minutes - 1 }));
    redraw();
  };
  self.enlarge = function (on) {
    if (on === self.large) return;
    self.large = on;
    document.body.classList.toggle('large', on);
    redraw();
  };
  return self;
};
