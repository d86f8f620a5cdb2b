export default [
  { name: 'theatre-1-bell-twice', mistake: 'a listener is added twice', replace: [["    bus.on('act', (act) => this.ring(`act ${act}`));\n", "    bus.on('act', (act) => this.ring(`act ${act}`));\n    bus.on('act', (act) => this.ring(`act ${act}`));\n"]] },
  { name: 'theatre-2-event-misspelt', mistake: 'an event is sent under one name and heard under another', replace: [["bus.on('end', () => {", "bus.on('ended', () => {"]] },
  { name: 'theatre-3-too-early', mistake: 'the event comes before the change', replace: [['    this.act += 1;\n    this.bus.emit(\'act\', this.act);', "    this.bus.emit('act', this.act);\n    this.act += 1;"]] },
  { name: 'theatre-4-closed-box', mistake: 'seats can be given back while the box is closed', replace: [['if (!this.open || (this.seats.get(place) ?? null) === null)', 'if ((this.seats.get(place) ?? null) === null)']] },
  { name: 'theatre-5-once', mistake: 'heard once only', replace: [["bus.on('begin', () => { this.open = false; });", "bus.once('begin', () => { this.open = false; });"]] },
  { name: 'theatre-6-act-six', mistake: 'a sixth act', replace: [['this.act >= 5', 'this.act > 5']] },
]
