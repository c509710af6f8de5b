import ts = require("typescript");
import { place, type ScriptDiagnostic } from "./messages.js";

const isAsync = (n: ts.Node): ts.Node | undefined =>
  ts.canHaveModifiers(n) ? ts.getModifiers(n)?.find((m) => m.kind === ts.SyntaxKind.AsyncKeyword) : undefined;

function mistake(n: ts.Node): { at: ts.Node; message: string } | undefined {
  const async = isAsync(n);
  if (async)
    return {
      at: async,
      message: 'there is no "async" in a script: values are there when they are asked for. Take it away',
    };
  if (ts.isAwaitExpression(n))
    return {
      at: n,
      message: 'there is no "await" in a script: values are there when they are asked for. Take it away',
    };
  if (ts.isForOfStatement(n) && n.awaitModifier)
    return { at: n.awaitModifier, message: 'there is no "await" in a script: use a plain "for … of"' };
  if (ts.isCallExpression(n) && n.expression.kind === ts.SyntaxKind.ImportKeyword)
    return {
      at: n,
      message: 'a script imports at its top, as in import { study } from "oxtrum"; there is no import(…)',
    };
  return undefined;
}

/**
 * Code that would run later, or load more code: nobody waits for it, so its errors and outputs would be lost in
 * silence. Found by syntax alone, whatever else is checked.
 */
export function asynchronousCode(source: ts.SourceFile, file: string): ScriptDiagnostic[] {
  const out: ScriptDiagnostic[] = [];
  const visit = (n: ts.Node): void => {
    const found = mistake(n);
    if (found)
      out.push(place(source, file, found.at.getStart(source), found.at.getWidth(source), found.message, [], "error"));
    ts.forEachChild(n, visit);
  };
  visit(source);
  return out;
}
