import "../../testing/browser";
import { EditorState } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { afterEach, beforeEach, describe, expect, it, jest } from "@jest/globals";
import { caret } from "./caret";

// Nothing has a place on this page.
Object.assign(Range.prototype, { getClientRects: () => [] });

let view: EditorView;
const layer = (): HTMLElement => view.scrollDOM.querySelector<HTMLElement>(".cm-cursorLayer")!;
/** Whether the caret is seen, every 300 ms. */
const seen = (times: number): boolean[] =>
  Array.from({ length: times }, () => {
    jest.advanceTimersByTime(300);
    return layer().style.visibility === "";
  });
const media = window.matchMedia;
beforeEach(() => void jest.useFakeTimers());
afterEach(() => {
  view.destroy();
  jest.useRealTimers();
  window.matchMedia = media;
});
const open = (): void => {
  view = new EditorView({ state: EditorState.create({ doc: "one", extensions: caret }), parent: document.body });
};

describe("the caret", () => {
  it("blinks while one can type, and is seen as soon as one does", () => {
    open();
    view.focus();
    view.dispatch({ selection: { anchor: 1 } });
    expect(seen(6)).toEqual([true, false, false, true, true, false]);
    view.dispatch({ changes: { from: 0, insert: "a" } });
    expect(layer().style.visibility).toBe("");
    expect(seen(2)).toEqual([true, false]);
    expect(layer().style.animationDuration).toBe("0ms");
  });
  it("stands still where the editor has no focus, and for whoever wants no movement", () => {
    open();
    view.dispatch({ selection: { anchor: 1 } });
    expect(seen(8)).not.toContain(false);
    view.destroy();
    window.matchMedia = () => ({ ...media(""), matches: true });
    open();
    view.focus();
    view.dispatch({ selection: { anchor: 1 } });
    expect(seen(8)).not.toContain(false);
  });
});
