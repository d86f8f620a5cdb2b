export default [
  { name: 'sketch-1-redo-stays', mistake: 'what could be redone stays after a change', replace: [['    this.#future = [];\n', '']] },
  { name: 'sketch-2-five-kept', mistake: 'five sheets are kept', replace: [['this.#past.length > MOST) this', 'this.#past.length > MOST + 1) this']] },
  { name: 'sketch-3-typing-goes-on', mistake: 'typing goes on after an undo', replace: [['    this.#sheet = this.#past.pop();\n    this.#typing = false;', '    this.#sheet = this.#past.pop();']] },
  { name: 'sketch-4-shared-list', mistake: 'a dot is drawn into the sheet that is kept', replace: [["i < 0 ? [...this.dots, dot] : this", "i < 0 ? (this.dots.push(dot), [...this.dots]) : this"]] },
  { name: 'sketch-5-idle-undo', mistake: 'what changes nothing can be undone', replace: [['    if (same) return;\n', '']] },
  { name: 'sketch-6-wrong-end', mistake: 'the newest sheet is forgotten in place of the oldest', replace: [['if (this.#past.length > MOST) this.#past.shift();', 'if (this.#past.length > MOST) this.#past.pop();']] },
]
