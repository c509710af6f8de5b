/**
 * Whether lines that a page writes are a script: its words without the import, as JavaScript without the one type that
 * they may name.
 *
 * @throws SyntaxError where they are not
 */
export function isScript(text: string): true {
  new Function(text.replace(/^import .*$/m, "").replace(": typeof runs", ""));
  return true;
}
