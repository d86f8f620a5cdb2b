export default [
  { name: 'tram-1-title-stays', mistake: 'the title stays when a line comes', replace: [["    else self.lines[at] = { line, minutes };\n    redraw();", '    else self.lines[at] = { line, minutes };']] },
  { name: 'tram-2-drawn-at-once', mistake: 'drawn before the change', replace: [['    requestAnimationFrame(draw);', '    draw();'], ['    if (on === self.large) return;\n    self.large = on;\n    document.body.classList.toggle(\'large\', on);\n    redraw();', "    if (on === self.large) return;\n    redraw();\n    self.large = on;"], ["    self.stop = name;\n    self.lines = [];", "    redraw();\n    self.stop = name;\n    self.lines = [];"], ["fields: { stop: name } }));\n    } catch (e) { /* not kept then */ }\n    redraw();", "fields: { stop: name } }));\n    } catch (e) { /* not kept then */ }"]] },
  { name: 'tram-3-visits-as-text', mistake: 'text of the storage is used as a number', replace: [["self.visits = Number(sessionStorage.getItem('visits')) + 1;", "self.visits = sessionStorage.getItem('visits') + 1;"]] },
  { name: 'tram-4-frame-lost', mistake: 'it waits for a frame that has been', replace: [['    wanted = false;\n    self.drawn++;', '    self.drawn++;']] },
  { name: 'tram-5-other-key', mistake: 'written under one key, read under another', replace: [["localStorage.setItem('tram-stop'", "localStorage.setItem('tram_stop'"]] },
  { name: 'tram-6-gone-too-early', mistake: 'a tram is gone when it comes', replace: [['l.minutes > 0)', 'l.minutes > 1)']] },
]
