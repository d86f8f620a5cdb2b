export default [
  { name: 'kiln-1-hold-goes-on', mistake: 'the timer of holding goes on after a stop', replace: [['    clearTimeout(this.#hold);\n', '']] },
  { name: 'kiln-2-goes-on-heating', mistake: 'heating goes on after a stop', replace: [['    clearInterval(this.#heat);\n', '']] },
  { name: 'kiln-3-interval', mistake: 'it cools twice as fast', replace: [['}, 2000);', '}, 1000);']] },
  { name: 'kiln-4-above-goal', mistake: 'it heats above its goal', replace: [['Math.min(this.goal, this.degrees + 200)', 'this.degrees + 200']] },
  { name: 'kiln-5-open-door', mistake: 'it is fired with an open door', replace: [["this.phase !== 'cold' || this.door", "this.phase !== 'cold'"]] },
  { name: 'kiln-6-colder-than-the-room', mistake: 'it gets colder than the room', replace: [['Math.max(20, this.degrees - 150)', 'this.degrees - 150']] },
]
