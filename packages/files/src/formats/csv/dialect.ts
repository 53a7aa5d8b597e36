import { open } from 'node:fs/promises';

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
export type Delimiter = ',' | ';' | '\t' | '|';

/** How a CSV file is written. */
export interface Dialect {
  readonly encoding: Encoding;
  readonly delimiter: Delimiter;
}

const SAMPLE_BYTES = 256 * 1024;
/** The rarer inside cells come first: where two cut as evenly, the first is meant. */
const DELIMITERS: readonly Delimiter[] = ['\t', '|', ';', ','];

/** Guesses a file's encoding and delimiter from its first bytes. */
export async function guessDialect(path: string, known: Partial<Dialect> = {}): Promise<Dialect> {
  const sample = await firstBytes(path);
  const encoding = known.encoding ?? guessEncoding(sample);
  const text = new TextDecoder(encoding).decode(sample);
  return { encoding, delimiter: known.delimiter ?? guessDelimiter(text) };
}

async function firstBytes(path: string): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(SAMPLE_BYTES), 0, SAMPLE_BYTES, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

/**
 * By the byte-order mark; without one by the zero bytes that UTF-16 has in Western text; else
 * UTF-8 if it is valid UTF-8, and Windows-1252 if not.
 */
export function guessEncoding(sample: Buffer): Encoding {
  if (sample[0] === 0xff && sample[1] === 0xfe) return 'utf-16le';
  if (sample[0] === 0xfe && sample[1] === 0xff) return 'utf-16be';
  const zeros = [0, 0];
  sample.forEach((byte, index) => {
    if (byte === 0) zeros[index % 2] = (zeros[index % 2] ?? 0) + 1;
  });
  const [even = 0, odd = 0] = zeros;
  if (odd + even > sample.length / 8) return odd >= even ? 'utf-16le' : 'utf-16be';
  try {
    // A character may be cut at the sample's end: streaming leaves it open.
    new TextDecoder('utf-8', { fatal: true }).decode(sample, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/** The delimiter that cuts the first lines most evenly into the most cells, quotes respected. */
export function guessDelimiter(text: string): Delimiter {
  const lines = text
    .replace(/"(?:[^"]|"")*"/g, '""')
    .split(/\r\n|\n|\r/)
    .filter((line) => line.trim() !== '')
    .slice(0, 50);
  let best: { delimiter: Delimiter; score: number } = { delimiter: ',', score: 0 };
  for (const delimiter of DELIMITERS) {
    const counts = lines.map((line) => line.split(delimiter).length - 1).sort((a, b) => a - b);
    const middle = counts[Math.floor(counts.length / 2)] ?? 0;
    const alike = counts.filter((count) => count === middle).length / Math.max(1, counts.length);
    const score = middle * alike * alike;
    if (score > best.score) best = { delimiter, score };
  }
  return best.delimiter;
}
