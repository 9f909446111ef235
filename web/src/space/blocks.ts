/** Arrays of numbers with a head, as the server sends them. */
export type Blocks<H> = {
  head: H;
  floats: (name: string) => Float32Array;
  whole: (name: string) => Int32Array;
  bytes: (name: string) => Uint8Array;
  signed: (name: string) => Int8Array;
};

type Block = { kind: string; at: number; count: number };

/** Reads what `posada.formats.space.Blocks` writes; nothing is copied. */
export function readBlocks<H>(data: ArrayBuffer): Blocks<H> {
  const length = new DataView(data).getInt32(0, true);
  const text = new TextDecoder().decode(new Uint8Array(data, 4, length));
  const { blocks, ...head } = JSON.parse(text) as { blocks: Record<string, Block> };
  const base = 4 + length;
  const at = (name: string) => {
    const b = blocks[name];
    if (!b) {
      throw new Error(`the view of the scene has no ${name}`);
    }
    return b;
  };
  return {
    head: head as H,
    floats: (name) => new Float32Array(data, base + at(name).at, at(name).count),
    whole: (name) => new Int32Array(data, base + at(name).at, at(name).count),
    bytes: (name) => new Uint8Array(data, base + at(name).at, at(name).count),
    signed: (name) => new Int8Array(data, base + at(name).at, at(name).count),
  };
}
