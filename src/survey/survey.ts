import { relative } from 'node:path';
import ts from 'typescript';
import { nearest } from '../base/suggest.js';
import { styleOf } from '../model/file-header.js';
import { insteadOf } from './names/instead.js';
import { namesIn, NamesError, noNames, resolveNames, type Names } from './names/names.js';
import { NewStores } from './new-stores/new-stores.js';
import { newUsesOf, type NewUses } from './new-stores/new-uses.js';
import { followHanding } from './old-store/handing-on.js';
import { Members } from './old-store/members.js';
import { importsOfNothing, type UnclearUse } from './old-store/unclear-uses.js';
import { deletable, leftBehind } from './old-store/unused.js';
import { relevance, usesOf, type Use, type UsesOfModule } from './old-store/uses.js';
import { readApplication, type ReadApplication } from './reading/application.js';
import { Typing } from './reading/typing.js';
import {
  SurveyError,
  useKinds,
  type PlaceLeft,
  type Survey,
  type SurveyedMember,
  type SurveyNote,
  type SurveyPlace,
  type SurveyRequest,
  type UseKind,
} from './survey-result.js';

/** Says what of an application still uses the old store. Throws {@link SurveyError}. */
export async function surveyApplication(request: SurveyRequest): Promise<Survey> {
  const { old, newIndex, participant, folder } = request;
  const also = [...old, ...[newIndex, participant].filter((one) => one !== undefined)];
  const application = await readApplication(request.modules, also, folder);
  return new Surveying(application, request).survey();
}

const nothingUsed: UsesOfModule = { uses: [], unclear: [], alsoUsed: [], imported: [] };
const nothingNew: NewUses = { members: [], slips: [] };

class Surveying {
  readonly #application: ReadApplication;
  readonly #request: SurveyRequest;
  readonly #typing: Typing;
  readonly #oldFiles: readonly ts.SourceFile[];
  readonly #members: Members;
  readonly #stores: NewStores | undefined;
  readonly #names: Names;

  constructor(application: ReadApplication, request: SurveyRequest) {
    this.#application = application;
    this.#request = request;
    const { program } = application;
    this.#typing = new Typing(program);
    this.#oldFiles = request.old.map((path) => this.#file(path));
    this.#members = new Members(this.#oldFiles, application.checker);
    this.#stores =
      request.newIndex === undefined
        ? undefined
        : new NewStores(program, this.#file(request.newIndex));
    this.#names = this.#readNames();
  }

  #file(path: string): ts.SourceFile {
    const found = this.#application.program.getSourceFile(path);
    if (found !== undefined) return found;
    const shown = relative(this.#request.folder, path);
    throw new SurveyError(`${shown} is not a module.`, 'Name a TypeScript or JavaScript file.');
  }

  #readNames(): Names {
    const { participant } = this.#request;
    if (participant === undefined) return noNames;
    const file = this.#file(participant);
    try {
      return resolveNames(namesIn(file), this.#members, this.#application.checker);
    } catch (error) {
      if (!(error instanceof NamesError)) throw error;
      const { line = 1, column = 1 } = this.#application.placeOf(error.file, error.offset) ?? {};
      throw new SurveyError(
        `${this.#application.pathOf(error.file)}:${line}:${column}: ${error.message}.`,
        "Write the names out: 'Terminal.arrive': 'deck.admit'.",
      );
    }
  }

  survey(): Survey {
    const skipped = new Set([
      ...this.#oldFiles,
      ...(this.#stores?.files ?? []),
      ...(this.#request.participant === undefined ? [] : [this.#file(this.#request.participant)]),
    ]);
    const modules = this.#application.modules.filter(
      (one) => !skipped.has(one) && styleOf(one.text) === undefined,
    );
    const isRelevant = relevance(this.#typing, this.#members);
    const relevant = new Set(modules.filter(isRelevant));
    const handed = followHanding(this.#typing, this.#members, [...relevant], new Set(modules));
    const found = modules.map((module, i) => {
      this.#request.begin?.(module.fileName, i);
      return {
        module,
        old: relevant.has(module) ? usesOf(module, this.#typing, this.#members) : nothingUsed,
        handed: [
          ...importsOfNothing(module, this.#application.missingImports(module)),
          ...(handed.get(module) ?? []),
        ],
        now: this.#stores ? newUsesOf(module, this.#typing, this.#stores) : nothingNew,
      };
    });
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
      members: this.#byMember(
        left,
        found.flatMap(({ old }) => old.uses),
      ),
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
      notRead: [...(this.#request.notRead ?? []), ...this.#application.notRead],
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
      this.#at(module, node).map((place) => ({
        ...place,
        member: this.#members.nameOf(declaration),
        kind,
        text: this.#application.lineOf(module, place.line),
        instead: this.#instead(node, declaration, kind),
      })),
    );
  }

  #instead(node: ts.Node, declaration: ts.Declaration, kind: UseKind): string | null {
    const name = kind === 'type' ? undefined : this.#names.of(declaration);
    return name === undefined ? null : insteadOf(node, kind, name, this.#stores);
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

  #byMember(left: readonly PlaceLeft[], uses: readonly Use[]): readonly SurveyedMember[] {
    const is = new Map(
      uses.map(({ declaration }) => [
        this.#members.nameOf(declaration),
        this.#names.of(declaration)?.is ?? null,
      ]),
    );
    const names = [...new Set(left.map(({ member }) => member))].sort();
    return names.map((member) => {
      const own = left.filter((place) => place.member === member);
      const count = (kind: UseKind) => own.filter((place) => place.kind === kind).length;
      return {
        member,
        is: is.get(member) ?? null,
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
    const known = this.#members.public().map((one) => this.#members.nameOf(one));
    const old = this.#names.unknown.map((name) => ({
      name,
      in: 'old' as const,
      nearest: nearest(name, known) ?? null,
    }));
    if (this.#stores === undefined) return old;
    const { names } = this.#stores;
    // Of data the schema's types say what there is; here only the field is known.
    const paths = new Set(this.#names.new.map((is) => is.split('[]')[0] ?? ''));
    const odd = [...paths].filter((path) => !names.includes(path));
    return [
      ...old,
      ...odd.map((name) => ({ name, in: 'new' as const, nearest: nearest(name, names) ?? null })),
    ];
  }
}
