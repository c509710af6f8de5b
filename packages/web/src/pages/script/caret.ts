import { drawSelection, ViewPlugin, type EditorView, type ViewUpdate } from "@codemirror/view";
import type { Extension } from "@codemirror/state";

/** Milliseconds for which the caret is seen, and for which it is not. */
const EVERY = 600;

class Blinking {
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(private readonly view: EditorView) {
    this.#begin();
  }

  update(u: ViewUpdate): void {
    if (u.docChanged || u.selectionSet || u.focusChanged) this.#begin();
  }

  destroy(): void {
    clearInterval(this.#timer);
  }

  /** Seen from now on, and blinking while one can type here. */
  #begin(): void {
    clearInterval(this.#timer);
    let isSeen = true;
    const show = (): void => {
      const carets = this.view.scrollDOM.querySelector<HTMLElement>(".cm-cursorLayer");
      if (carets) carets.style.visibility = isSeen ? "" : "hidden";
    };
    show();
    if (!this.view.hasFocus || window.matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    this.#timer = setInterval(() => {
      isSeen = !isSeen;
      show();
    }, EVERY);
  }
}

/**
 * Selections and carets, drawn by the editor. Carets blink by a timer, not by an animation of the style sheet: that has
 * the page drawn sixty times a second for as long as a script is open.
 */
export const caret: Extension = [drawSelection({ cursorBlinkRate: 0 }), ViewPlugin.fromClass(Blinking)];
