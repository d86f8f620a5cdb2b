import { dirname } from 'node:path';
import ts from 'typescript';
import { styleOf } from '../model/file-header.js';

/** What a member of the new stores is. */
export type NewKind = 'field' | 'derived' | 'action';

export interface NewMember {
  /** `deck.vehicles`. */
  readonly name: string;
  readonly kind: NewKind;
}

/** The generated stores, as the compiler knows them. */
export class NewStores {
  readonly style: string;
  readonly files: readonly ts.SourceFile[];
  /** What there is by store. */
  readonly stores = new Map<string, Map<string, NewKind>>();
  readonly #members = new Map<ts.Declaration, NewMember>();
  /** The declarations by which a store is reached: `stores.deck`. */
  readonly #steps = new Map<ts.Declaration, string>();

  constructor(program: ts.Program, index: ts.SourceFile) {
    const folder = dirname(index.fileName);
    this.style = styleOf(index.text) ?? '';
    this.files = program
      .getSourceFiles()
      .filter(({ fileName }) => fileName.startsWith(`${folder}/`));
    new Reading(program.getTypeChecker(), index, this.style === 'reducer', {
      store: (name, declarations) => {
        if (!this.stores.has(name)) this.stores.set(name, new Map());
        for (const one of declarations) this.#steps.set(one, name);
      },
      member: (store, name, kind, declarations) => {
        const own = this.stores.get(store);
        if (own?.has(name) === false) own.set(name, kind);
        for (const one of declarations) this.#members.set(one, { name: `${store}.${name}`, kind });
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

  /** The type of the schema that a property belongs to, if it is one of data: `Vehicle`. */
  typeOfData(symbol: ts.Symbol | undefined): string | undefined {
    for (const one of symbol?.declarations ?? [])
      if (
        ts.isPropertySignature(one) &&
        ts.isInterfaceDeclaration(one.parent) &&
        !this.#steps.has(one) &&
        /[\\/]types(\.d)?\.ts$/.test(one.getSourceFile().fileName) &&
        this.has(one)
      )
        return one.parent.name.text;
    return undefined;
  }

  kindOf(name: string): NewKind | undefined {
    const [store = '', member = ''] = name.split('.');
    return this.stores.get(store)?.get(member);
  }

  /** The full names of all members. */
  get names(): readonly string[] {
    return [...this.stores].flatMap(([store, own]) =>
      [...own.keys()].map((name) => `${store}.${name}`),
    );
  }

  /** Whether something is declared in the generated files. */
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

/** Told of what is read. */
interface Told {
  store(name: string, declarations: readonly ts.Declaration[]): void;
  member(store: string, name: string, kind: NewKind, declarations: readonly ts.Declaration[]): void;
}

/** Reads the types of generated stores from what `createStores` gives. */
class Reading {
  constructor(
    readonly checker: ts.TypeChecker,
    readonly index: ts.SourceFile,
    readonly isReducer: boolean,
    readonly told: Told,
  ) {}

  read(): void {
    const module = this.checker.getSymbolAtLocation(this.index);
    const all = module === undefined ? [] : this.checker.getExportsOfModule(module);
    const create = all.find(({ name }) => name === 'createStores');
    const made = create && this.#typeOf(create).getCallSignatures()[0]?.getReturnType();
    if (made === undefined) return;
    if (!this.isReducer) {
      this.#stores(made.getProperty('stores'), (type) => this.#kindIn(type));
      return;
    }
    const state = made.getProperty('snapshot');
    const app = state && this.#typeOf(state).getCallSignatures()[0]?.getReturnType();
    for (const store of app?.getProperties() ?? []) this.#store(store, () => 'field');
    this.#stores(made.getProperty('derived'), () => 'derived');
    for (const exported of all)
      if (/Actions$/.test(exported.name))
        this.#store(exported, () => 'action', exported.name.replace(/Actions$/, ''));
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
    this.told.store(name, this.#meant(store).declarations ?? []);
    const type = this.#typeOf(store);
    // A store of one value has no members in its state.
    if (type.flags & ts.TypeFlags.Object || type.isIntersection())
      for (const member of type.getProperties())
        if (!this.checker.isArrayType(type))
          this.told.member(
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
