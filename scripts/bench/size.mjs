/** Whether every bench is only run through once, at a tiny size, to show that it still runs. */
const TINY = process.env.VARN_BENCH_TINY === '1';

export const sized = (full, tiny) => (TINY ? tiny : full);
