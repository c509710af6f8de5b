/** A canvas does not wait for fonts: charts are drawn once these are there. */
export const fontsReady = Promise.all(
  ['400 12px "IBM Plex Sans"', '600 15px "IBM Plex Sans"', '400 11px "IBM Plex Mono"'].map((f) =>
    document.fonts.load(f),
  ),
);
