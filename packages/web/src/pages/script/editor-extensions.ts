import {
  autocompletion,
  completionKeymap,
  type CompletionContext,
  type CompletionResult,
} from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap, indentWithTab } from "@codemirror/commands";
import { javascript } from "@codemirror/lang-javascript";
import { HighlightStyle, indentUnit, syntaxHighlighting } from "@codemirror/language";
import { linter, type Diagnostic as Marked } from "@codemirror/lint";
import { search, searchKeymap } from "@codemirror/search";
import type { Extension } from "@codemirror/state";
import {
  EditorView,
  highlightActiveLine,
  highlightActiveLineGutter,
  hoverTooltip,
  keymap,
  lineNumbers,
} from "@codemirror/view";
import { tags as t } from "@lezer/highlight";
import { checkSchema, completionSchema, hoverSchema, type Diagnostic } from "@oxtrum/contract";
import { caret } from "./caret";

/** The page's ink for code: words of the language, texts, numbers, notes. */
const ink = HighlightStyle.define([
  {
    tag: [t.keyword, t.controlKeyword, t.moduleKeyword, t.definitionKeyword, t.operatorKeyword],
    color: "var(--oxide)",
    fontWeight: "500",
  },
  { tag: [t.string, t.special(t.string), t.regexp], color: "var(--patina)" },
  { tag: [t.number, t.bool, t.null], color: "var(--ochre)" },
  { tag: [t.comment, t.lineComment, t.blockComment], color: "var(--pencil)", fontStyle: "italic" },
]);

async function post(script: string, what: string, body: object): Promise<unknown> {
  const r = await fetch(`/api/scripts/${encodeURIComponent(script)}/${what}`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });
  if (!r.ok) throw new Error(`${what}: ${r.status}`);
  return r.json();
}

function completions(script: string) {
  return async (context: CompletionContext): Promise<CompletionResult | null> => {
    const before = context.matchBefore(/[\w$."'`]+$/);
    if (!before && !context.explicit) return null;
    const found = completionSchema.parse(
      await post(script, "complete", { text: context.state.doc.toString(), offset: context.pos }),
    );
    if (!found || context.aborted) return null;
    return {
      from: found.from,
      to: found.to,
      options: found.entries.map((e) => ({
        label: e.label,
        ...(e.detail !== undefined && e.detail !== "" && { detail: e.detail }),
        type: e.kind,
      })),
      validFor: found.entries[0]?.kind === "name" ? /^[^"'`]*$/ : /^[\w$]*$/,
    };
  };
}

const documentation = (script: string): Extension =>
  hoverTooltip(async (view, pos) => {
    const h = hoverSchema.parse(await post(script, "hover", { text: view.state.doc.toString(), offset: pos }));
    if (!h) return null;
    return {
      pos: h.from,
      end: h.to,
      create: () => {
        const dom = document.createElement("div");
        dom.className = "cm-doc";
        const code = document.createElement("code");
        code.textContent = h.signature;
        dom.append(code, h.documentation);
        return { dom };
      },
    };
  });

/** Where a diagnostic stands in the text; whole lines when only the line is known. */
export function placeOf(d: Diagnostic, doc: EditorView["state"]["doc"]): { from: number; to: number } {
  const line = doc.line(Math.min(Math.max(1, d.line), doc.lines));
  const last = doc.line(Math.min(Math.max(d.line, d.endLine), doc.lines));
  const whole = d.endColumn >= 1000 || (d.column === 1 && d.endColumn === 1);
  const from = whole
    ? line.from + (line.text.length - line.text.trimStart().length)
    : Math.min(line.to, line.from + d.column - 1);
  const to = whole ? line.to : Math.min(last.to, last.from + d.endColumn - 1);
  return { from, to: Math.max(from, to) };
}

function checks(script: string, onChecked: (d: readonly Diagnostic[]) => void): Extension {
  return linter(
    async (view): Promise<Marked[]> => {
      const { doc } = view.state;
      const { diagnostics } = checkSchema.parse(await post(script, "check", { text: doc.toString() }));
      onChecked(diagnostics);
      return diagnostics
        .filter((d) => d.file === script)
        .map((d) => {
          const place = placeOf(d, doc);
          return {
            ...place,
            severity: d.severity,
            message: d.message,
            actions: d.fixes.slice(0, 3).map((fix) => ({
              name: fix,
              apply: (v: EditorView, from: number, to: number) => v.dispatch({ changes: { from, to, insert: fix } }),
            })),
          };
        });
    },
    { delay: 350 },
  );
}

export interface EditorActs {
  readonly onTry: () => void;
  readonly onRun: () => void;
  readonly onSave: () => void;
  readonly onChecked: (d: readonly Diagnostic[]) => void;
  readonly onView: (view: EditorView, what: { text: boolean; line: boolean }) => void;
}

const act = (f: () => void) => (): boolean => {
  f();
  return true;
};

/** A text as the editor shows it, without checks and completions. */
export const readingExtensions: Extension = [
  lineNumbers(),
  history(),
  javascript({ typescript: true }),
  syntaxHighlighting(ink),
  EditorView.lineWrapping,
  keymap.of([...historyKeymap, ...defaultKeymap]),
];

export function extensions(script: string, acts: EditorActs): Extension {
  return [
    keymap.of([
      { key: "Mod-Enter", run: act(acts.onTry) },
      { key: "Mod-Shift-Enter", run: act(acts.onRun) },
      { key: "Mod-s", run: act(acts.onSave), preventDefault: true },
    ]),
    lineNumbers(),
    history(),
    caret,
    highlightActiveLine(),
    highlightActiveLineGutter(),
    indentUnit.of("  "),
    javascript({ typescript: true }),
    syntaxHighlighting(ink),
    autocompletion({ override: [completions(script)], icons: false, activateOnTypingDelay: 80, interactionDelay: 40 }),
    documentation(script),
    checks(script, acts.onChecked),
    search({ top: true }),
    keymap.of([...completionKeymap, ...searchKeymap, ...historyKeymap, ...defaultKeymap, indentWithTab]),
    EditorView.contentAttributes.of({ "aria-label": `Script ${script}` }),
    EditorView.updateListener.of((u) => {
      if (u.docChanged || u.selectionSet || u.geometryChanged || u.viewportChanged)
        acts.onView(u.view, { text: u.docChanged, line: u.selectionSet || u.docChanged });
    }),
  ];
}
