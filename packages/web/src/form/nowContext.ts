import { createContext, useContext } from 'react';

/** Gives the serial of the server's now in the workbook's zone. */
export const NowContext = createContext<() => number>(() => 0);

export const useNowSerial = (): (() => number) => useContext(NowContext);
