import ts from 'typescript';
import type { Slip } from './slip.js';

/** What is wrong with the payload that the action `name` is called with: the compiler does not complain in JavaScript. */
export function wrongPayload(
  call: ts.CallExpression,
  name: string,
  checker: ts.TypeChecker,
): Slip | undefined {
  const [signature] = checker.getTypeAtLocation(call.expression).getCallSignatures();
  const [given] = call.arguments;
  if (signature === undefined) return undefined;
  const payload = payloadIn(signature, checker);
  const slip = (node: ts.Node, message: string, hint: string): Slip => ({
    kind: 'wrong-payload',
    node,
    message,
    hint,
  });
  if (payload === undefined)
    return given && slip(given, `'${name}' takes no payload.`, 'Leave it out.');
  const wanted = payload.type;
  const hint = `It takes ${checker.typeToString(wanted, call, ts.TypeFormatFlags.NoTruncation)}.`;
  if (given === undefined)
    return payload.isOptional
      ? undefined
      : slip(call, `'${name}' is called without its payload.`, hint);
  const type = checker.getTypeAtLocation(given);
  // The text of a variable may be one of several: the compiler knows it as that text, or as any.
  const wide = checker.getBaseTypeOfLiteralType(type);
  if (checker.isTypeAssignableTo(type, wanted) || checker.isTypeAssignableTo(wide, wanted))
    return undefined;
  return slip(given, `'${name}' is given ${checker.typeToString(wide, call)}.`, hint);
}

/** What an action takes: its only parameter, or the only one of `...given: [payload: Lane]`. */
function payloadIn(
  signature: ts.Signature,
  checker: ts.TypeChecker,
): { readonly type: ts.Type; readonly isOptional: boolean } | undefined {
  const [parameter] = signature.parameters;
  if (parameter === undefined) return undefined;
  const type = checker.getTypeOfSymbol(parameter);
  const declaration = parameter.valueDeclaration;
  const isParameter = declaration !== undefined && ts.isParameter(declaration);
  if (!checker.isTupleType(type))
    return { type, isOptional: isParameter && checker.isOptionalParameter(declaration) };
  const tuple = type as ts.TupleTypeReference;
  const [first] = checker.getTypeArguments(tuple);
  return first && { type: first, isOptional: tuple.target.minLength === 0 };
}
