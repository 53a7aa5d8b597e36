import { inFolder, milliseconds, startServer } from './server.mjs';

/** From starting the process to its first answer: with the demo to load, and with it loaded. */
export function measure() {
  return inFolder(async (folder) => {
    const first = await startServer(folder);
    await first.stop();
    const later = await startServer(folder);
    await later.stop();
    return [
      {
        what: 'server start to first answer, demo data',
        value: milliseconds(later.ms),
        target: '≤ 2,000 ms',
      },
      { what: 'the first start, which loads the demo', value: milliseconds(first.ms) },
    ];
  });
}
