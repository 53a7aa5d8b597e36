import type { Encoding } from './dialect';

const BOM: Record<Encoding, readonly number[]> = {
  'utf-8': [0xef, 0xbb, 0xbf],
  'utf-16le': [0xff, 0xfe],
  'utf-16be': [0xfe, 0xff],
  'windows-1252': [],
};

/** Bytes of a text in its file, where its bytes in UTF-8 are known (WHATWG Encoding). */
const SIZE: Record<Encoding, (text: string, utf8: number) => number> = {
  'utf-8': (_text, utf8) => utf8,
  'utf-16le': (text) => 2 * text.length,
  'utf-16be': (text) => 2 * text.length,
  'windows-1252': (text) => text.length,
};

interface Piece {
  readonly text: string;
  readonly utf8: number;
}

/**
 * Tells which byte of a file a place in its decoded text is, while both are read piece by piece:
 * parsers count in bytes of UTF-8, whatever the file is written in.
 */
export class TextPlaces {
  private readonly pieces: Piece[] = [];
  private isFirst = true;
  /** Whether bytes stood for nothing: from there on text and file can't be matched. */
  private isBroken = false;
  private passedUtf8 = 0;

  /** @param byte where in the file reading begins */
  constructor(
    private readonly encoding: Encoding,
    private byte: number,
  ) {}

  /** Takes the next bytes, and the text that was decoded from them and those left over before. */
  add(chunk: Buffer, text: string): void {
    if (
      this.isFirst &&
      this.byte === 0 &&
      BOM[this.encoding].every((each, n) => each === chunk[n])
    ) {
      this.byte += BOM[this.encoding].length;
    }
    this.isFirst = false;
    if (this.encoding === 'utf-8' && text.includes('\uFFFD')) this.isBroken = true;
    if (!this.isBroken) this.pieces.push({ text, utf8: Buffer.byteLength(text) });
  }

  /** Lets go of what stands before so many bytes of UTF-8; told in rising order. */
  passTo(utf8: number): void {
    for (;;) {
      const [piece] = this.pieces;
      if (!piece || utf8 - this.passedUtf8 < piece.utf8) return;
      this.passedUtf8 += piece.utf8;
      this.byte += SIZE[this.encoding](piece.text, piece.utf8);
      this.pieces.shift();
    }
  }

  /**
   * The byte of the file after so many bytes of UTF-8; asked in rising order.
   *
   * @returns `null` where it is not known
   */
  byteAfter(utf8: number): number | null {
    this.passTo(utf8);
    const [piece] = this.pieces;
    if (!piece) return null;
    const into = utf8 - this.passedUtf8;
    const before = Buffer.from(piece.text).subarray(0, into).toString();
    return this.byte + SIZE[this.encoding](before, into);
  }
}
