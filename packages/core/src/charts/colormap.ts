/** Seven colours of a map from dark to light, linear in sRGB between them; its lightness rises throughout. */
export const fieldStops = ["#16354A", "#1F5A66", "#3B7A6B", "#71925F", "#B0A25A", "#E0B07A", "#F3CDBE"] as const;

const channel = (hex: string, k: number): number => parseInt(hex.slice(1 + 2 * k, 3 + 2 * k), 16) / 255;

/**
 * The colour at a share of the map, as three shares of red, green and blue; outside of it, and without a share, that of
 * its nearest end.
 *
 * @example fieldColor(0) // the darkest
 */
export function fieldColor(share: number): [number, number, number] {
  const at = (share > 0 ? Math.min(1, share) : 0) * (fieldStops.length - 1);
  const k = Math.min(fieldStops.length - 2, Math.floor(at));
  const f = at - k;
  return [0, 1, 2].map((c) => (1 - f) * channel(fieldStops[k]!, c) + f * channel(fieldStops[k + 1]!, c)) as [
    number,
    number,
    number,
  ];
}

/** The same as text: `#16354A`. */
export const fieldHex = (share: number): string =>
  "#" +
  fieldColor(share)
    .map((c) =>
      Math.round(c * 255)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")
    .toUpperCase();
