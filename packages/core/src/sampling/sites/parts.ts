import type { Block } from "../field-set.js";
import type { Part, Station } from "../part.js";
import { blockPieces, type Pieces } from "../pieces.js";

/** A part of a site for each block; its pieces are made when they are asked for. */
export const partsOf = (blocks: readonly Block[], make: (b: Block) => Pieces, station?: Station): Part[] =>
  blocks.map((block) => {
    let made: Pieces | undefined;
    return {
      block,
      whole: make === blockPieces,
      get pieces() {
        return (made ??= make(block));
      },
      station,
    };
  });
