import { TextDecoder, TextEncoder } from 'node:util';

/** What browsers have and the stand-in for one in tests lacks. */
const platform: Record<string, unknown> = {
  TextEncoder,
  TextDecoder,
  structuredClone: (value: unknown): unknown => JSON.parse(JSON.stringify(value)),
};
for (const [name, value] of Object.entries(platform)) {
  if (!(name in globalThis)) Object.assign(globalThis, { [name]: value });
}
