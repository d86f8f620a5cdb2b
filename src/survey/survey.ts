import ts from 'typescript';
import { nearest } from '../base/suggest.js';
import { readApplication, type ReadApplication } from './application.js';
import { followHanding } from './handing-on.js';
import { insteadOf } from './instead.js';
import { Members, ownerOf } from './members.js';
import { namesIn, NamesError, resolveNames, type NameTable } from './names.js';
import { NewStores } from './new-stores.js';
import { NewUseFinder, type NewUses } from './slips.js';
import {
  SurveyError,
  useKinds,
  type UseKind,
  type PlaceLeft,
  type Survey,
  type SurveyedMember,
  type SurveyNote,
  type SurveyPlace,
  type SurveyRequest,
} from './survey-result.js';
import { Typing } from './typing.js';
import { deletable, leftBehind } from './unused.js';
import { UseFinder, type UnclearUse, type UsesOfModule } from './uses.js';

/** Says what of an application still uses the old store. Throws {@link SurveyError}. */
export async function surveyApplication(request: SurveyRequest): Promise<Survey> {
  const { old, newIndex, participant, folder } = request;
  const also = [...old, ...[newIndex, participant].filter((one) => one !== undefined)];
  const application = await readApplication(request.modules, also, folder);
  return new Surveying(application, request).survey();
}

const nothingUsed: UsesOfModule = { uses: [], unclear: [], alsoUsed: [], imported: [] };

class Surveying {
  readonly #application: ReadApplication;
  readonly #request: SurveyRequest;
  readonly #typing: Typing;
  readonly #oldFiles: readonly ts.SourceFile[];
  readonly #members: Members;
  readonly #stores: NewStores | undefined;
  readonly #names: NameTable;

  constructor(application: ReadApplication, request: SurveyRequest) {
    this.#application = application;
    this.#request = request;
    const { program } = application;
    this.#typing = new Typing(program);
    this.#oldFiles = request.old.map((path) => this.#file(path));
    this.#members = new Members(this.#oldFiles);
    this.#stores =
      request.newIndex === undefined
        ? undefined
        : new NewStores(program, this.#file(request.newIndex));
    this.#names = this.#readNames();
  }

  #file(path: string): ts.SourceFile {
    const found = this.#application.program.getSourceFile(path);
    if (found === undefined) throw new SurveyError(`${path} cannot be read.`);
    return found;
  }

  #readNames(): NameTable {
    const { participant } = this.#request;
    const { checker } = this.#application;
    if (participant === undefined) return { byDeclaration: new Map(), unknown: [] };
    const file = this.#file(participant);
    const exported = this.#oldFiles.flatMap((one) => {
      const module = checker.getSymbolAtLocation(one);
      return module === undefined ? [] : checker.getExportsOfModule(module);
    });
    try {
      return resolveNames(namesIn(file), this.#members, exported, checker);
    } catch (error) {
      if (!(error instanceof NamesError)) throw error;
      const { line = 1, column = 1 } = this.#application.placeOf(error.file, error.offset) ?? {};
      throw new SurveyError(
        `${this.#application.pathOf(error.file)}:${line}:${column}: ${error.message}.`,
      );
    }
  }

  survey(): Survey {
    const skipped = new Set([
      ...this.#oldFiles,
      ...(this.#stores?.files ?? []),
      ...(this.#request.participant === undefined ? [] : [this.#file(this.#request.participant)]),
    ]);
    const modules = this.#application.modules.filter((one) => !skipped.has(one));
    const finder = new UseFinder(this.#typing, this.#members);
    const concerned = modules.filter((module) => finder.concerns(module));
    const concernedOnes = new Set(concerned);
    const handed = followHanding(this.#typing, this.#members, concerned, new Set(modules));
    const news = this.#stores && new NewUseFinder(this.#typing, this.#stores);
    const found = modules.map((module) => ({
      module,
      old: concernedOnes.has(module) ? finder.find(module) : nothingUsed,
      handed: handed.get(module) ?? [],
      now: news?.find(module) ?? { members: [], slips: [] },
    }));
    const used = new Set(
      found.flatMap(({ old }) => [
        ...old.uses.map(({ declaration }) => declaration),
        ...old.alsoUsed,
      ]),
    );
    const left = found.flatMap(({ module, old }) => this.#left(module, old));
    return {
      left,
      moved: found.reduce((sum, { module, now }) => sum + this.#moved(module, now), 0),
      modules: this.#byModule(left, found),
      members: this.#byMember(left),
      deletable: this.#deletable(used),
      leftBehind: found.flatMap(({ module, old, now }) => this.#leftBehind(module, old, now)),
      slips: found.flatMap(({ module, now }) =>
        now.slips.flatMap(({ node, kind, message, hint }) =>
          this.#at(module, node).map((place) => ({ ...place, kind, message, hint })),
        ),
      ),
      unclear: found.flatMap(({ module, old, handed: own }) =>
        [...old.unclear, ...own]
          .sort((a, b) => a.node.pos - b.node.pos)
          .flatMap((one) => this.#unclear(module, one)),
      ),
      notRead: this.#application.notRead,
      unknownNames: this.#unknownNames(),
      read: modules.length,
    };
  }

  /** The place of a node; none for what was added for the compiler. */
  #at(module: ts.SourceFile, node: ts.Node): readonly SurveyPlace[] {
    const place = this.#application.placeOf(module, node.getStart(module));
    return place === undefined ? [] : [{ module: this.#application.pathOf(module), ...place }];
  }

  #left(module: ts.SourceFile, { uses }: UsesOfModule): readonly PlaceLeft[] {
    return uses.flatMap(({ node, declaration, kind }) =>
      this.#at(module, node).map((place) => {
        return {
          ...place,
          member: this.#members.nameOf(declaration),
          kind,
          text: this.#application.lineOf(module, place.line),
          instead: kind === 'type' ? null : this.#instead(node, declaration, kind),
        };
      }),
    );
  }

  #instead(node: ts.Node, declaration: ts.Declaration, kind: UseKind): string | null {
    const name = this.#names.byDeclaration.get(declaration);
    if (name !== undefined) return insteadOf(node, kind, name, this.#stores);
    // Of `officer.name` the participant file may say only what `officer` is.
    const owner = ownerOf(declaration);
    if (owner === undefined || !this.#names.byDeclaration.has(owner)) return null;
    const outer = this.#instead(node, owner, kind);
    return outer === null || kind !== 'read'
      ? outer
      : `${outer}.${this.#members.nameOf(declaration).split('.').at(-1) ?? ''}`;
  }

  #moved(module: ts.SourceFile, { members }: NewUses): number {
    return members.filter(({ node }) => this.#at(module, node).length > 0).length;
  }

  #unclear(module: ts.SourceFile, { node, reason }: UnclearUse): readonly SurveyNote[] {
    return this.#at(module, node).map((place) => ({ ...place, message: reason }));
  }

  #byModule(
    left: readonly PlaceLeft[],
    found: readonly { readonly module: ts.SourceFile; readonly now: NewUses }[],
  ): Survey['modules'] {
    const counts = new Map<string, number>();
    for (const { module } of left) counts.set(module, (counts.get(module) ?? 0) + 1);
    return found
      .map(({ module, now }) => {
        const path = this.#application.pathOf(module);
        return { module: path, left: counts.get(path) ?? 0, moved: this.#moved(module, now) };
      })
      .filter(({ left: own, moved }) => own + moved > 0);
  }

  #byMember(left: readonly PlaceLeft[]): readonly SurveyedMember[] {
    const known = new Map(
      [...this.#names.byDeclaration].map(([declaration, { is }]) => [
        this.#members.nameOf(declaration),
        is,
      ]),
    );
    // Of `officer.name` the participant file may say only what `officer` is.
    const isOf = (member: string): string | null => {
      const [, owner, part] = /^(.+)\.([^.]+)$/.exec(member) ?? [];
      const outer = owner === undefined ? undefined : known.get(owner);
      return known.get(member) ?? (outer === undefined ? null : `${outer}.${part ?? ''}`);
    };
    const names = [...new Set(left.map(({ member }) => member))].sort();
    return names.map((member) => {
      const own = left.filter((place) => place.member === member);
      const count = (kind: UseKind) => own.filter((place) => place.kind === kind).length;
      return {
        member,
        is: isOf(member),
        uses: Object.fromEntries(
          useKinds.map((kind) => [kind, count(kind)]),
        ) as SurveyedMember['uses'],
        modules: [...new Set(own.map(({ module }) => module))],
      };
    });
  }

  #deletable(used: ReadonlySet<ts.Declaration>): Survey['deletable'] {
    return deletable(this.#typing, this.#members, this.#oldFiles, used).flatMap((declaration) => {
      const name = ts.getNameOfDeclaration(declaration) ?? declaration;
      return this.#at(declaration.getSourceFile(), name).map((place) => ({
        ...place,
        member: this.#members.nameOf(declaration),
      }));
    });
  }

  #leftBehind(
    module: ts.SourceFile,
    { imported }: UsesOfModule,
    { members }: NewUses,
  ): Survey['leftBehind'] {
    const hasNew = members.length > 0;
    if (!hasNew && imported.length === 0) return [];
    const template = this.#application.componentText(module);
    return leftBehind(module, template, imported, hasNew).flatMap(({ node, name, what }) =>
      this.#at(module, node).map((place) => ({ ...place, name, what })),
    );
  }

  #unknownNames(): Survey['unknownNames'] {
    const known = this.#members
      .public(this.#typing.checker)
      .map((one) => this.#members.nameOf(one));
    return this.#names.unknown.map((name) => ({ name, nearest: nearest(name, known) ?? null }));
  }
}
