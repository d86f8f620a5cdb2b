import { ComponentWriter, type ComponentModule, type ReadComponent } from './single-file.js';

/** What is used of the compiler of Svelte. */
export interface SvelteCompiler {
  readonly parse: (source: string, options: object) => Root;
}

interface Root {
  readonly instance?: { readonly content: Placed } | null;
  readonly module?: { readonly content: Placed } | null;
  readonly fragment: Node;
}

interface Placed {
  readonly start: number;
  readonly end: number;
}

/** A node of the template: what it has depends on its type. */
type Node = Placed & Readonly<Record<string, unknown>> & { readonly type: string };

const known = `
declare const __any: any;
declare function __each<T>(of: readonly T[] | Iterable<T>): T[];
declare function $state<T>(value?: T): T;
declare function $derived<T>(value: T): T;
declare namespace $derived { function by<T>(read: () => T): T }
declare function $effect(run: () => unknown): void;
declare function $props(): any;
declare function $bindable<T>(value?: T): T;
type __Contents<S> = S extends { subscribe(run: (value: infer V) => any, ...more: any[]): any } ? V : any;
`;

const runes = new Set([
  '$state',
  '$derived',
  '$effect',
  '$props',
  '$bindable',
  '$inspect',
  '$host',
]);

/** Reads components of Svelte: their scripts, and their templates in the scope of these. */
export const svelteReader =
  ({ parse }: SvelteCompiler): ReadComponent =>
  (text): ComponentModule => {
    const { instance, module, fragment } = parse(text, { modern: true });
    const writer = new ComponentWriter(text);
    for (const script of [module, instance])
      if (script) writer.script(script.content.start, script.content.end);
    writer.add(`\n;${known}export default __any;\n`);
    const contents = new Set(text.match(/\$[A-Za-z_]\w*/g) ?? []);
    for (const name of contents)
      if (!runes.has(name))
        writer.add(`declare let ${name}: __Contents<typeof ${name.slice(1)}>;\n`);
    writer.add('function __template() {\n');
    writeNode(writer, fragment);
    writer.add('}\n');
    return writer.finish();
  };

const isNode = (value: unknown): value is Node =>
  typeof value === 'object' && value !== null && 'type' in value && typeof value.type === 'string';

function writeNode(writer: ComponentWriter, node: Node): void {
  if (node.type === 'EachBlock') {
    writer.add('for (const ');
    copyOr(writer, node['context'], '__item');
    writer.add(' of __each(');
    copyOr(writer, node['expression'], '[]');
    writer.add(')) {\n');
    if (typeof node['index'] === 'string') writer.add(`const ${node['index']} = 0;\n`);
    writeParts(writer, node, ['context', 'expression']);
    writer.add('}\n');
  } else if (node.type === 'SnippetBlock') {
    const params = (node['parameters'] as readonly Placed[] | undefined) ?? [];
    writer.add('((');
    for (const param of params) {
      copyOr(writer, param, '_');
      writer.add(', ');
    }
    writer.add('...__more: any[]) => {\n');
    writeParts(writer, node, ['parameters', 'expression']);
    writer.add('});\n');
  } else if (node.type === 'BindDirective') {
    writer.add('(');
    copyOr(writer, node['expression'], '__any');
    writer.add(') = __any;\n');
  } else if (node.type === 'ConstTag') {
    copyOr(writer, node['declaration'], '');
    writer.add(';\n');
  } else if (isTemplate(node.type)) writeParts(writer, node, []);
  else {
    writer.add('(');
    writer.copy(node.start, node.end);
    writer.add(');\n');
  }
}

/** True if it is a part of the template, and no expression. */
const isTemplate = (type: string): boolean =>
  /(Block|Tag|Element|Directive|Attribute|Fragment|Component|Window|Body|Document|Head|Options|Text|Comment)$/.test(
    type,
  );

/** Everything in a node that is one itself. */
function writeParts(writer: ComponentWriter, node: Node, without: readonly string[]): void {
  for (const [name, part] of Object.entries(node))
    if (!without.includes(name) && name !== 'metadata' && name !== 'parent')
      for (const one of [part].flat()) if (isNode(one)) writeNode(writer, one);
}

function copyOr(writer: ComponentWriter, part: unknown, other: string): void {
  if (isNode(part)) writer.copy(part.start, part.end);
  else writer.add(other);
}
