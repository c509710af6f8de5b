import "../testing/browser";
import { afterEach, expect, it, jest } from "@jest/globals";
import { act, cleanup, render } from "@testing-library/react";
import { Working } from "./Working";

const media = window.matchMedia;
afterEach(() => {
  cleanup();
  jest.useRealTimers();
  window.matchMedia = media;
});

/** Where the stripes stand in the first two seconds. */
function steps(): string[] {
  jest.useFakeTimers();
  const stripes = render(<Working className="h-1" what="Reading" />).getByRole("progressbar", { name: "Reading" });
  const seen: string[] = [];
  for (let ms = 0; ms < 2000; ms += 50) {
    act(() => void jest.advanceTimersByTime(50));
    if (stripes.style.backgroundPosition !== seen.at(-1)) seen.push(stripes.style.backgroundPosition);
  }
  return seen;
}

it("moves seven times a second at most, in steps that come round", () => {
  const seen = steps();
  expect(seen.length).toBeGreaterThan(8);
  expect(seen.length).toBeLessThanOrEqual(14);
  expect(new Set(seen).size).toBe(7);
});

it("stands still for whoever wants no movement", () => {
  window.matchMedia = () => ({ ...media(""), matches: true });
  expect(steps()).toEqual([""]);
});
