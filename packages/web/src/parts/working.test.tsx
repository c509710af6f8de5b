import "../testing/browser";
import { afterEach, expect, it, jest } from "@jest/globals";
import { act, cleanup, render } from "@testing-library/react";
import type { ReactElement } from "react";
import { CellMark } from "./marks";
import { Working } from "./Working";

const media = window.matchMedia;
afterEach(() => {
  cleanup();
  jest.useRealTimers();
  window.matchMedia = media;
});

/** What an element is like in the first two seconds, each time that it is another. */
function steps(part: ReactElement): string[] {
  jest.useFakeTimers();
  const { container } = render(part);
  const seen: string[] = [];
  for (let ms = 0; ms < 2000; ms += 50) {
    act(() => void jest.advanceTimersByTime(50));
    if (container.innerHTML !== seen.at(-1)) seen.push(container.innerHTML);
  }
  return seen;
}
const moving: readonly [string, () => ReactElement, number][] = [
  ["stripes", () => <Working className="h-1" what="Reading" />, 7],
  ["a square of a run that is worked on", () => <CellMark state="running" />, 5],
];

it.each(moving)("%s: moves seven times a second at most, in steps that come round", (_, part, different) => {
  const seen = steps(part());
  expect(seen.length).toBeGreaterThan(8);
  expect(seen.length).toBeLessThanOrEqual(14);
  expect(new Set(seen).size).toBe(different);
});

it.each(moving)("%s: stands still for whoever wants no movement", (_, part) => {
  window.matchMedia = () => ({ ...media(""), matches: true });
  expect(steps(part())).toHaveLength(1);
});

it("stands still in a legend", () => {
  expect(steps(<CellMark state="running" still />)).toHaveLength(1);
});
