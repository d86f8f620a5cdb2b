import ts from 'typescript';

/** Code that is nested deeper than that ends the compiler, and what walks through it. */
const mostDeep = 1000;

type GetSourceFile = ts.CompilerHost['getSourceFile'];

/** Reads files for the compiler; what cannot be read as a whole is left empty, and the reason is kept. */
export class WholeFiles {
  readonly #reasons = new Map<string, string>();

  /** Why a file is not read; `undefined` if it is. */
  reasonOf(path: string): string | undefined {
    return this.#reasons.get(path);
  }

  /** Those that are not read, in the order in which they were met. */
  get all(): readonly (readonly [path: string, reason: string])[] {
    return [...this.#reasons];
  }

  /** Reads a file as `read` does. */
  wrap(read: GetSourceFile): GetSourceFile {
    return (name, version, onError, anew) => {
      const empty = () => ts.createSourceFile(name, '', version);
      const refused = (reason: string) => {
        this.#reasons.set(name, reason);
        return empty();
      };
      let file: ts.SourceFile | undefined;
      try {
        file = read(name, version, onError, anew);
      } catch (error) {
        return refused(error instanceof RangeError ? tooDeep : 'cannot be read');
      }
      // Declarations of packages are no code of the application.
      if (file === undefined || file.isDeclarationFile || name.includes('/node_modules/'))
        return file;
      const [first] =
        (file as { readonly parseDiagnostics?: readonly ts.DiagnosticWithLocation[] })
          .parseDiagnostics ?? [];
      if (first !== undefined) {
        const { line, character } = file.getLineAndCharacterOfPosition(first.start);
        const what = ts.flattenDiagnosticMessageText(first.messageText, ' ').replace(/\.$/, '');
        return refused(`does not parse: ${line + 1}:${character + 1} ${what}`);
      }
      return isTooDeep(file) ? refused(tooDeep) : file;
    };
  }
}

const tooDeep = `is nested too deeply, more than ${mostDeep} levels`;

function isTooDeep(file: ts.SourceFile): boolean {
  const left: (readonly [node: ts.Node, depth: number])[] = [[file, 0]];
  for (let next = left.pop(); next !== undefined; next = left.pop()) {
    const [node, depth] = next;
    if (depth > mostDeep) return true;
    node.forEachChild((child) => void left.push([child, depth + 1]));
  }
  return false;
}
