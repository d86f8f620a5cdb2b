import { ComponentWriter, type ComponentModule, type ReadComponent } from './single-file.js';

/** What is used of the compiler of Vue. */
export interface VueCompiler {
  readonly parse: (source: string, options: object) => { readonly descriptor: Descriptor };
  readonly compileScript: (
    descriptor: Descriptor,
    options: object,
  ) => { readonly bindings?: Readonly<Record<string, unknown>> };
}

interface Block {
  readonly content: string;
  readonly lang?: string;
  readonly loc: {
    readonly start: { readonly offset: number };
    readonly end: { readonly offset: number };
  };
}

interface Descriptor {
  readonly script: Block | null;
  readonly scriptSetup: Block | null;
  readonly template: (Block & { readonly ast?: TemplateNode }) | null;
}

/** An expression of the template, with its place. */
interface Expression {
  readonly content: string;
  readonly loc: Block['loc'];
}

interface Directive {
  readonly type: number;
  readonly name: string;
  readonly exp?: Expression;
  readonly arg?: Expression & { readonly isStatic: boolean };
  readonly forParseResult?: {
    readonly source: Expression;
    readonly value?: Expression;
    readonly key?: Expression;
    readonly index?: Expression;
  };
}

interface TemplateNode {
  readonly props?: readonly Directive[];
  readonly children?: readonly TemplateNode[];
  /** Of an interpolation. */
  readonly content?: Expression | string;
}

const directiveType = 7;

/** What a template and a setup script know without declaring it. */
const known = `
declare function defineProps<T = any>(...given: any[]): T;
declare function withDefaults<T>(props: T, defaults: any): T;
declare function defineEmits<T = any>(...given: any[]): any;
declare function defineExpose(given?: any): void;
declare function defineOptions(given?: any): void;
declare function defineSlots<T = any>(): T;
declare function defineModel<T = any>(...given: any[]): import('vue').Ref<T>;
declare function __unwrapped<T>(of: T): { [K in keyof T]: T[K] extends import('vue').Ref<infer V> ? V : T[K] };
declare function __each<T>(of: readonly T[] | Iterable<T> | number): T[];
declare function __each<T>(of: { [key: string]: T }): T[];
declare const __any: any;
`;

/** Reads components of Vue: their scripts, and their templates in the scope of these. */
export const vueReader =
  ({ parse, compileScript }: VueCompiler): ReadComponent =>
  (text, path): ComponentModule => {
    const { descriptor } = parse(text, { filename: path, sourceMap: false });
    const { script, scriptSetup, template } = descriptor;
    const writer = new ComponentWriter(text);
    const scripts = [script, scriptSetup].filter((one) => one !== null);
    for (const { loc } of scripts) writer.script(loc.start.offset, loc.end.offset);
    writer.add(`\n;${known}`);
    if (scripts.length === 0) writer.add('export default __any;\n');
    else if (scriptSetup !== null) writer.add('export default __any;\n');
    if (template?.ast !== undefined) {
      const names =
        scripts.length === 0 ? {} : (compileScript(descriptor, { id: path }).bindings ?? {});
      new TemplateWriter(writer, Object.entries(names)).write(
        template.ast,
        scriptSetup === null,
        path,
      );
    }
    return writer.finish(scripts.some(({ lang }) => lang === 'tsx' || lang === 'jsx'));
  };

/** Words that name nothing that a component could have. */
const reserved =
  /^(true|false|null|undefined|this|typeof|instanceof|in|of|new|delete|void|await|async|function|return|if|else|for|while|const|let|var|class|switch|case|default|break|continue|throw|try|catch|finally|do|yield|super|import|export|extends|with|enum|debugger|arguments|eval)$/;

/** All words in the expressions of a template: what a component has of them, it gives to the template. */
function wordsIn(node: TemplateNode): readonly string[] {
  const words = new Set<string>();
  const visit = ({ props = [], children = [], content }: TemplateNode): void => {
    const expressions = [
      ...props.filter(({ type }) => type === directiveType).map(({ exp }) => exp?.content ?? ''),
      typeof content === 'object' ? content.content : '',
    ];
    for (const text of expressions)
      for (const word of text.match(/(?<![\w$.'"])[A-Za-z_$][\w$]*/g) ?? [])
        if (!reserved.test(word)) words.add(word);
    for (const child of children) visit(child);
  };
  visit(node);
  return [...words];
}

class TemplateWriter {
  readonly #writer: ComponentWriter;
  readonly #bindings: readonly (readonly [string, unknown])[];

  constructor(writer: ComponentWriter, bindings: readonly (readonly [string, unknown])[]) {
    this.#writer = writer;
    this.#bindings = bindings;
  }

  /** Writes what a template does as a function within the scope of the component. */
  write(root: TemplateNode, isOptions: boolean, path: string): void {
    const names = isOptions
      ? wordsIn(root)
      : this.#bindings
          .filter(([, kind]) => kind === 'setup-ref' || kind === 'setup-maybe-ref')
          .map(([name]) => name);
    const list = names.join(', ');
    if (isOptions) {
      const self = JSON.stringify(`./${path.replace(/^.*[\\/]/, '')}`);
      this.#writer.add(`import __component from ${self};\n`);
      this.#writer.add(
        `function __template(__it: InstanceType<typeof __component>) {\nconst { ${list} } = __it;\n`,
      );
    } else {
      this.#writer.add(`const __bound = () => ({ ${list} });\n`);
      this.#writer.add(
        `function __template(__it = __unwrapped(__bound()), $event: any = __any) {\nconst { ${list} } = __it;\n`,
      );
    }
    this.#children(root);
    this.#writer.add('}\n');
  }

  #children({ children = [] }: TemplateNode): void {
    for (const child of children) this.#node(child);
  }

  #node(node: TemplateNode): void {
    const directives = (node.props ?? []).filter(({ type }) => type === directiveType);
    const loop = directives.find(({ name }) => name === 'for');
    const slot = directives.find(({ name, exp }) => name === 'slot' && exp !== undefined);
    if (loop?.forParseResult !== undefined) this.#loop(loop.forParseResult);
    if (slot?.exp !== undefined) {
      this.#writer.add('((');
      this.#copy(slot.exp);
      this.#writer.add(': any) => {\n');
    }
    for (const directive of directives)
      if (directive !== loop && directive !== slot) this.#directive(directive);
    if (typeof node.content === 'object') this.#statement(node.content);
    this.#children(node);
    if (slot !== undefined) this.#writer.add('});\n');
    if (loop !== undefined) this.#writer.add('}\n');
  }

  #loop({ source, value, key, index }: NonNullable<Directive['forParseResult']>): void {
    this.#writer.add('for (const ');
    if (value === undefined) this.#writer.add('__item');
    else this.#copy(value);
    this.#writer.add(' of __each(');
    this.#copy(source);
    this.#writer.add(')) {\n');
    for (const counted of [key, index])
      if (counted !== undefined) this.#writer.add(`const ${counted.content}: any = __any;\n`);
  }

  #directive({ name, exp, arg }: Directive): void {
    if (arg !== undefined && !arg.isStatic) this.#statement(arg);
    if (exp === undefined) {
      // `:plate` stands for `:plate="plate"`.
      if (name === 'bind' && arg?.isStatic === true && /^[\w$]+$/.test(arg.content))
        this.#statement(arg);
      return;
    }
    if (name === 'on') {
      this.#writer.add('(($event: any) => {\n');
      this.#copy(exp);
      this.#writer.add('\n});\n');
    } else if (name === 'model') {
      this.#writer.add('(');
      this.#copy(exp);
      this.#writer.add(') = __any;\n');
    } else this.#statement(exp);
  }

  #statement(expression: Expression): void {
    this.#writer.add('(');
    this.#copy(expression);
    this.#writer.add(');\n');
  }

  #copy({ loc }: Expression): void {
    this.#writer.copy(loc.start.offset, loc.end.offset);
  }
}
