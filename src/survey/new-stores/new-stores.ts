import { dirname } from 'node:path';
import ts from 'typescript';
import { isStyle, usedBy, type Style } from '../../base/styles.js';
import { styleOf } from '../../model/file-header.js';

/** What a member of the new stores is. */
export type NewKind = 'field' | 'derived' | 'action';

export interface NewMember {
  /** `deck.vehicles`. */
  readonly name: string;
  readonly kind: NewKind;
}

/** The generated stores, as the compiler knows them. */
export class NewStores {
  readonly style: Style | undefined;
  /** True if actions are sent by `dispatch`, and values read from one state. */
  readonly isDispatched: boolean;
  readonly files: readonly ts.SourceFile[];
  /** What there is by store. */
  readonly stores = new Map<string, Map<string, NewKind>>();
  readonly #members = new Map<ts.Declaration, NewMember>();
  /** The declarations by which a store is reached: `stores.deck`. */
  readonly #steps = new Map<ts.Declaration, string>();
  /** The properties of data in the state. */
  readonly #data = new Set<ts.Declaration>();

  constructor(program: ts.Program, index: ts.SourceFile) {
    const folder = dirname(index.fileName);
    const style = styleOf(index.text);
    this.style = isStyle(style) ? style : undefined;
    this.isDispatched = this.style !== undefined && usedBy[this.style] === 'dispatch';
    this.files = program
      .getSourceFiles()
      .filter(({ fileName }) => fileName.startsWith(`${folder}/`));
    new TypeReader(program.getTypeChecker(), index, this.files, this.isDispatched, {
      store: (name, declarations) => {
        if (!this.stores.has(name)) this.stores.set(name, new Map());
        for (const one of declarations) this.#steps.set(one, name);
      },
      member: (store, name, kind, declarations) => {
        const own = this.stores.get(store);
        if (own?.has(name) === false) own.set(name, kind);
        for (const one of declarations) this.#members.set(one, { name: `${store}.${name}`, kind });
      },
      data: (declarations) => {
        for (const one of declarations) if (this.has(one)) this.#data.add(one);
      },
    }).read();
  }

  /** The member that a symbol stands for. */
  memberOf(symbol: ts.Symbol | undefined): NewMember | undefined {
    return first(symbol, this.#members);
  }

  /** The store that a symbol stands for. */
  storeOf(symbol: ts.Symbol | undefined): string | undefined {
    return first(symbol, this.#steps);
  }

  /** True if a symbol is a property of data in the state: `car.lengthM`. */
  isData(symbol: ts.Symbol | undefined): boolean {
    return symbol?.declarations?.some((one) => this.#data.has(one)) === true;
  }

  kindOf(name: string): NewKind | undefined {
    const [store = '', member = ''] = name.split('.');
    return this.stores.get(store)?.get(member);
  }

  /** The full names of all stores and members. */
  get names(): readonly string[] {
    return [...this.stores].flatMap(([store, own]) => [
      store,
      ...[...own.keys()].map((name) => `${store}.${name}`),
    ]);
  }

  /** True if something is declared in the generated files. */
  has(declaration: ts.Node): boolean {
    return this.files.includes(declaration.getSourceFile());
  }
}

function first<T>(
  symbol: ts.Symbol | undefined,
  known: ReadonlyMap<ts.Declaration, T>,
): T | undefined {
  for (const declaration of symbol?.declarations ?? []) {
    const found = known.get(declaration);
    if (found !== undefined) return found;
  }
  return undefined;
}

/** Takes what is read. */
interface Taking {
  store(name: string, declarations: readonly ts.Declaration[]): void;
  member(store: string, name: string, kind: NewKind, declarations: readonly ts.Declaration[]): void;
  data(declarations: readonly ts.Declaration[]): void;
}

/** Reads the types of generated stores from what `createStores` gives. */
class TypeReader {
  readonly #seen = new Set<ts.Type>();

  constructor(
    readonly checker: ts.TypeChecker,
    readonly index: ts.SourceFile,
    readonly files: readonly ts.SourceFile[],
    readonly isReducer: boolean,
    readonly taking: Taking,
  ) {}

  read(): void {
    const module = this.checker.getSymbolAtLocation(this.index);
    const all = module === undefined ? [] : this.checker.getExportsOfModule(module);
    const create = all.find(({ name }) => name === 'createStores');
    const made = create && this.#typeOf(create).getCallSignatures()[0]?.getReturnType();
    if (made === undefined) return;
    const app = this.#stateIn(made);
    for (const store of app?.getProperties() ?? []) this.#data(this.#typeOf(store));
    if (!this.isReducer) {
      this.#stores(made.getProperty('stores'), (type) => this.#kindIn(type));
      return;
    }
    for (const store of app?.getProperties() ?? []) this.#store(store, () => 'field');
    this.#stores(made.getProperty('derived'), () => 'derived');
    for (const [name, actions] of this.#actions()) this.#store(actions, () => 'action', name);
  }

  /** What makes the actions of each store; that of a lazy store is in its own module only. */
  #actions(): ReadonlyMap<string, ts.Symbol> {
    const found = new Map<string, ts.Symbol>();
    for (const file of this.files) {
      const module = this.checker.getSymbolAtLocation(file);
      for (const one of module === undefined ? [] : this.checker.getExportsOfModule(module)) {
        const [, name] = /^(.+)Actions$/.exec(one.name) ?? [];
        if (name !== undefined && this.#meant(one).flags & ts.SymbolFlags.Value)
          found.set(name, one);
      }
    }
    return found;
  }

  /** The type of the state of all stores: it is read in another way in each style. */
  #stateIn(made: ts.Type): ts.Type | undefined {
    const state = made.getProperty(this.isReducer ? 'snapshot' : 'state');
    const type = state && this.#typeOf(state);
    const read = type?.getProperty('get') ?? type?.getProperty('latest');
    const value = read === undefined ? type : this.#typeOf(read);
    return value?.getCallSignatures()[0]?.getReturnType() ?? value;
  }

  /** The properties of the data in a state, and of what they hold. */
  #data(type: ts.Type): void {
    const own = this.checker.getNonNullableType(type);
    if (this.#seen.has(own)) return;
    this.#seen.add(own);
    if (own.isUnionOrIntersection()) for (const one of own.types) this.#data(one);
    else if (this.checker.isArrayType(own) || this.checker.isTupleType(own))
      for (const item of this.checker.getTypeArguments(own as ts.TypeReference)) this.#data(item);
    else if (own.flags & ts.TypeFlags.Object)
      for (const property of [...own.getProperties()]) {
        this.taking.data(property.declarations ?? []);
        this.#data(this.checker.getTypeOfSymbol(property));
      }
    const value = own.getStringIndexType();
    if (value !== undefined) this.#data(value);
  }

  #typeOf(symbol: ts.Symbol): ts.Type {
    return this.checker.getNonNullableType(this.checker.getTypeOfSymbol(this.#meant(symbol)));
  }

  #meant(symbol: ts.Symbol): ts.Symbol {
    return symbol.flags & ts.SymbolFlags.Alias ? this.checker.getAliasedSymbol(symbol) : symbol;
  }

  #stores(of: ts.Symbol | undefined, kindOf: (type: ts.Type) => NewKind): void {
    for (const store of of === undefined ? [] : this.#typeOf(of).getProperties())
      this.#store(store, kindOf);
  }

  #store(store: ts.Symbol, kindOf: (type: ts.Type) => NewKind, name = store.name): void {
    this.taking.store(name, this.#meant(store).declarations ?? []);
    const type = this.#typeOf(store);
    // A store of one value has no members in its state.
    if (type.flags & ts.TypeFlags.Object || type.isIntersection())
      for (const member of type.getProperties())
        if (!this.checker.isArrayType(type))
          this.taking.member(
            name,
            member.name,
            kindOf(this.#typeOf(member)),
            member.declarations ?? [],
          );
  }

  /** What is called and gives an outcome is an action; fields and derived values cannot be told apart. */
  #kindIn(type: ts.Type): NewKind {
    const result = type.getCallSignatures()[0]?.getReturnType();
    return result?.getProperty('status') === undefined ? 'field' : 'action';
  }
}
