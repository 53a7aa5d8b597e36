import { createContext, useContext } from 'react';

/** The workbook's locale, by which fields are read and shown. */
export const LocaleContext = createContext('en');

export const useLocale = (): string => useContext(LocaleContext);
