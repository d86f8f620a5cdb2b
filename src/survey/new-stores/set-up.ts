import ts from 'typescript';

/**
 * True if code runs once to set something up, and not each time that something happens: at the top of a module, in the
 * body of a component or of a function that components use, in an effect, among the fields of a class.
 */
export function isSetUp(node: ts.Node): boolean {
  let at: ts.Node | undefined = node.parent;
  while (at !== undefined) {
    if (ts.isSourceFile(at)) return true;
    if (ts.isPropertyDeclaration(at) || ts.isConstructorDeclaration(at)) return true;
    if (ts.isMethodDeclaration(at)) return ['setup', 'ngOnInit'].includes(at.name.getText());
    if (ts.isFunctionDeclaration(at) || ts.isFunctionExpression(at) || ts.isArrowFunction(at))
      return isComponentName(nameOf(at)) || isEffect(at);
    at = at.parent;
  }
  return false;
}

function nameOf(fn: ts.FunctionDeclaration | ts.FunctionExpression | ts.ArrowFunction): string {
  if (fn.name !== undefined) return fn.name.text;
  const { parent } = fn;
  return ts.isVariableDeclaration(parent) || ts.isPropertyAssignment(parent)
    ? parent.name.getText()
    : '';
}

/** Components have names with a capital; functions that they use to set something up begin with `use`. */
const isComponentName = (name: string): boolean => /^([A-Z]|use[A-Z]|setup$)/.test(name);

/** True if a function is given to one that runs it when a component comes up. */
function isEffect(fn: ts.Node): boolean {
  const { parent } = fn;
  return (
    ts.isCallExpression(parent) &&
    /(^|\.)(use(Layout|Insertion)?Effect|watchEffect|onMounted|effect|afterNextRender)$/.test(
      parent.expression.getText(),
    )
  );
}
