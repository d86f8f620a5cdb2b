export default [
  { name: 'folders-1-clip-stays', mistake: 'what is removed can still be pasted', replace: [['    if (this.clipNode === gone) this.clipNode = null;\n', '']] },
  { name: 'folders-2-children-lost', mistake: 'what is inside is lost', replace: [['    for (const child of [...gone.children]) this.move(child, up);\n', '    for (const child of [...gone.children]) this.byId.delete(child.id);\n']] },
  { name: 'folders-3-every-second', mistake: 'a list is walked while it changes', replace: [['for (const child of [...gone.children])', 'for (const child of gone.children)'], ['    n.parent!.children = n.parent!.children.filter((c) => c !== n);\n    n.parent = to;', '    n.parent!.children.splice(n.parent!.children.indexOf(n), 1);\n    n.parent = to;']] },
  { name: 'folders-4-open-twice', mistake: 'opened twice', replace: [['if (this.chosenNode && !this.opened.includes(this.chosenNode))', 'if (this.chosenNode)']] },
  { name: 'folders-5-into-itself', mistake: 'pasted into itself', replace: [['!this.clipNode || this.clipNode === this.chosenNode ||', '!this.clipNode ||']] },
  { name: 'folders-6-chosen-top', mistake: 'after a removal the top is chosen', replace: [['this.chosenNode = up === this.root ? null : up;', 'this.chosenNode = null;']] },
]
