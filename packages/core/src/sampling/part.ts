import type { Block } from "./field-set.js";
import type { Pieces } from "./piece-kinds.js";
import type { Place } from "./places.js";

/** Where a station stands: its place, the direction it looks, and what it is called by along its axis or path. */
export interface Station {
  readonly at: number;
  readonly point: Place;
  readonly normal: Place;
}

/** A part of a site: what one block gives to it. */
export interface Part {
  readonly block: Block;
  /** All of the block's cells, as against a cut through them. */
  readonly whole: boolean;
  /** Made when they are asked for. */
  readonly pieces: Pieces;
  /** The station whose plane this is. */
  readonly station: Station | undefined;
}
