// A real tree of nodes with parents; ids are made of chance. What is shown is made flat when it is asked for.
const newId = () => Math.random().toString(36).slice(2, 10);

class Node {
  children: Node[] = [];
  constructor(readonly id: string, public name: string, public parent: Node | null, readonly nth: number) {}
}

export class Tree {
  private root = new Node('', '', null, 0);
  private byId = new Map<string, Node>();
  private count = 0;
  private opened: Node[] = [];
  private chosenNode: Node | null = null;
  private clipNode: Node | null = null;

  get folders() {
    return [...this.byId.values()].map((n) => ({ id: n.id, name: n.name, inside: n.parent === this.root ? null : n.parent!.id }));
  }
  get open() { return this.opened.map((n) => n.id); }
  get chosen() { return this.chosenNode?.id ?? null; }
  get clip() { return this.clipNode?.id ?? null; }
  get top() { return this.inOrder(this.root).map((n) => n.name); }
  under(id: string) { const n = this.byId.get(id); return n ? this.inOrder(n).map((c) => c.id) : []; }
  get where() { return (this.chosenNode?.name ?? 'nothing') + (this.clipNode ? ` (cut: ${this.clipNode.id})` : ''); }

  private inOrder(n: Node) { return n.children.slice().sort((a, b) => a.nth - b.nth); }

  private move(n: Node, to: Node) {
    n.parent!.children = n.parent!.children.filter((c) => c !== n);
    n.parent = to;
    to.children.push(n);
  }

  add(name: string) {
    if (!name.trim()) return false;
    const parent = this.chosenNode ?? this.root;
    const n = new Node(newId(), name.trim(), parent, this.count++);
    parent.children.push(n);
    this.byId.set(n.id, n);
    if (this.chosenNode && !this.opened.includes(this.chosenNode)) this.opened.push(this.chosenNode);
    this.chosenNode = n;
    return true;
  }

  choose(id: string | null) {
    const n = id === null ? null : this.byId.get(id);
    if (n === undefined) return false;
    this.chosenNode = n;
    return true;
  }

  toggle(id: string) {
    const n = this.byId.get(id);
    if (!n) return false;
    this.opened = this.opened.includes(n) ? this.opened.filter((o) => o !== n) : [...this.opened, n];
    return true;
  }

  cut() {
    if (!this.chosenNode) return false;
    this.clipNode = this.chosenNode;
    return true;
  }

  paste() {
    if (!this.clipNode || this.clipNode === this.chosenNode || this.clipNode.children.length > 0) return false;
    this.move(this.clipNode, this.chosenNode ?? this.root);
    this.clipNode = null;
    return true;
  }

  remove() {
    const gone = this.chosenNode;
    if (!gone) return false;
    const up = gone.parent!;
    for (const child of [...gone.children]) this.move(child, up);
    up.children = up.children.filter((c) => c !== gone);
    this.byId.delete(gone.id);
    this.opened = this.opened.filter((o) => o !== gone);
    if (this.clipNode === gone) this.clipNode = null;
    this.chosenNode = up === this.root ? null : up;
    return true;
  }
}
