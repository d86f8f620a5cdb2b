import type { AnyNode, BinaryExpression } from 'acorn';

/** Why a node is outside the expression language, and what to write instead. */
export interface SyntaxRefusal {
  readonly what: string;
  readonly instead: string;
  /** Where to point, if not at the whole node. */
  readonly start?: number;
  readonly end?: number;
}

const binaryOperators = new Set([
  '+',
  '-',
  '*',
  '/',
  '%',
  '**',
  '<',
  '<=',
  '>',
  '>=',
  '===',
  '!==',
]);

/** The checks of what is allowed, by node type: a type that is not here is outside the language. */
const allowed: { readonly [type: string]: (node: never) => SyntaxRefusal | undefined } = {
  Literal: (node: { regex?: unknown; bigint?: unknown }) => {
    if (node.regex)
      return {
        what: 'A regular expression',
        instead: 'Use includes, startsWith, endsWith, indexOf.',
      };
    if (node.bigint)
      return { what: 'A big integer', instead: 'Write it as a number, without the n.' };
    return undefined;
  },
  TemplateLiteral: fine,
  TemplateElement: fine,
  Identifier: fine,
  SpreadElement: fine,
  ConditionalExpression: fine,
  LogicalExpression: fine,
  ChainExpression: fine,
  ArrayExpression: (node: { elements: readonly unknown[] }) =>
    node.elements.includes(null) ? { what: 'A hole in a list', instead: 'Write null.' } : undefined,
  ObjectExpression: fine,
  ObjectPattern: fine,
  ArrayPattern: fine,
  Property: (node: {
    kind: string;
    method: boolean;
    computed: boolean;
    key: { name?: string; value?: unknown };
  }) => {
    if (node.kind !== 'init' || node.method)
      return { what: 'A method', instead: 'Write a property: name: value.' };
    if (node.computed)
      return {
        what: 'A computed key',
        instead: "Use the step 'put' with 'key' to write a dictionary.",
      };
    if ((node.key.name ?? node.key.value) === '__proto__') {
      return { what: "The key '__proto__'", instead: 'Give the property another name.' };
    }
    return undefined;
  },
  UnaryExpression: (node: { operator: string }) =>
    ['!', '-', '+'].includes(node.operator)
      ? undefined
      : {
          what: `The operator '${node.operator}'`,
          instead: 'The types are known: compare the value itself.',
        },
  BinaryExpression: refuseBinary,
  MemberExpression: fine,
  CallExpression: fine,
  ArrowFunctionExpression: (node: { async: boolean; body: { type: string } }) => {
    if (node.async)
      return { what: 'An async function', instead: 'Expressions have their answer at once.' };
    return node.body.type === 'BlockStatement'
      ? { what: 'A function body in braces', instead: 'Write the value itself: v => v.lengthM.' }
      : undefined;
  },
};

function fine(): undefined {
  return undefined;
}

function refuseBinary(node: BinaryExpression): SyntaxRefusal | undefined {
  const { operator } = node;
  if (binaryOperators.has(operator)) return undefined;
  const place = { start: node.left.end, end: node.right.start };
  if (operator === '==' || operator === '!=') {
    return { what: `'${operator}'`, instead: `Write '${operator}='.`, ...place };
  }
  return {
    what: `The operator '${operator}'`,
    instead: 'Use arithmetic, comparisons and list methods.',
    ...place,
  };
}

const instead: Readonly<Record<string, readonly [what: string, instead: string]>> = {
  AssignmentExpression: [
    'An assignment',
    "To compare write '==='; to store a value use the step 'set'.",
  ],
  UpdateExpression: ["'++' or '--'", "To store a value use the step 'set'."],
  NewExpression: ["'new'", 'Values are JSON: text, numbers, true, false, null, lists, objects.'],
  ThisExpression: ["'this'", 'Name the field itself.'],
  FunctionExpression: ["'function'", 'Write an arrow: v => v.lengthM.'],
  AwaitExpression: ["'await'", 'Expressions have their answer at once.'],
  SequenceExpression: ["The operator ','", 'Write one expression.'],
  TaggedTemplateExpression: ['A tagged template', 'Write the template alone.'],
  AssignmentPattern: [
    'A default for a parameter',
    "Handle the absent value where it is used: '?? ...'.",
  ],
  RestElement: ["'...' in a pattern", 'Name the parts that are meant: ({ plate, lane }) => ...'],
};

/** Why this node (not its children) is outside the expression language; `undefined` if it is inside. */
export function refusalOf(node: AnyNode): SyntaxRefusal | undefined {
  const check = allowed[node.type] as ((node: AnyNode) => SyntaxRefusal | undefined) | undefined;
  if (check !== undefined) return check(node);
  const [what, way] = instead[node.type] ?? [
    `This (${node.type})`,
    'The language reference lists what there is.',
  ];
  return { what, instead: way };
}
