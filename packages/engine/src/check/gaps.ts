import ts = require("typescript");

/**
 * The member that a name written in a call stands for: a column of the table whose verb is called, or a file of the
 * run; undefined where the call takes no such name.
 */
export function namedMember(
  literal: ts.StringLiteralLike,
  name: string,
  checker: ts.TypeChecker,
): ts.Symbol | undefined {
  let call: ts.Node = literal;
  while (call.parent && !ts.isCallExpression(call)) call = call.parent;
  if (!ts.isCallExpression(call) || !ts.isPropertyAccessExpression(call.expression)) return undefined;
  const verb = call.expression.name.text;
  const receiver = checker.getTypeAtLocation(call.expression.expression);
  if (receiver.symbol?.name === "Run" && (verb === "table" || verb === "lines" || verb === "field")) {
    const study = argument(receiver, checker);
    for (const part of ["tables", "lines", "fields"]) {
      const files = study && checker.getPropertyOfType(study, part);
      const found = files && checker.getPropertyOfType(checker.getTypeOfSymbol(files), name);
      if (found) return found;
    }
    return undefined;
  }
  // Columns of the table whose verb this is, or of what a chart or `across` is given first.
  const first = call.arguments[0];
  for (const type of [receiver, ...(first && first !== literal ? [checker.getTypeAtLocation(first)] : [])]) {
    const columns = columnsOf(type, checker);
    const found = columns && checker.getPropertyOfType(columns, name);
    if (found) return found;
  }
  return undefined;
}

const argument = (type: ts.Type, checker: ts.TypeChecker): ts.Type | undefined =>
  (type.aliasTypeArguments ?? checker.getTypeArguments(type as ts.TypeReference))?.[0];

function columnsOf(type: ts.Type, checker: ts.TypeChecker): ts.Type | undefined {
  if (type.symbol?.name === "Table") return argument(type, checker);
  const inner = type.symbol?.name === "RunMap" ? argument(type, checker) : undefined;
  return inner?.symbol?.name === "Table" ? argument(inner, checker) : undefined;
}

/** Names that some runs have and others lack: a script may use them, but those runs will be left out. */
export function gapsIn(
  source: ts.SourceFile,
  checker: ts.TypeChecker,
): { literal: ts.StringLiteralLike; message: string }[] {
  const out: { literal: ts.StringLiteralLike; message: string }[] = [];
  const asked = new Set<string>();
  const visit = (n: ts.Node): void => {
    if (ts.isCallExpression(n) && ts.isPropertyAccessExpression(n.expression) && n.expression.name.text === "has") {
      const [file] = n.arguments;
      if (file && ts.isStringLiteralLike(file)) asked.add(file.text);
    }
    if (ts.isStringLiteralLike(n)) {
      const member = namedMember(n, n.text, checker);
      const tag = member?.getJsDocTags(checker).find((t) => t.name === "lackedBy");
      if (tag)
        out.push({
          literal: n,
          message: `"${n.text}" is not in ${ts.displayPartsToString(tag.text)}: excluded here`,
        });
    }
    ts.forEachChild(n, visit);
  };
  visit(source);
  // Who asks with `has` knows that some runs lack the file.
  return out.filter((g) => !asked.has(g.literal.text));
}
