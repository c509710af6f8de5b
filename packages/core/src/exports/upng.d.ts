declare module "upng-js" {
  interface Codec {
    /** Frames of RGBA pixels as (animated) PNG; `colors` 0 is lossless, `delays` in milliseconds. */
    encode(frames: ArrayBuffer[], width: number, height: number, colors: number, delays?: number[]): ArrayBuffer;
    decode(file: ArrayBuffer): { width: number; height: number; frames: { delay: number }[] };
    toRGBA8(image: object): ArrayBuffer[];
  }
  const codec: Codec;
  export default codec;
}
