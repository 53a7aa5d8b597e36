/** A moment as the workbook's locale and clock tell it: `28 Nov 2026, 04:13`. */
export const sayMoment = (at: number, locale: string, timeZone: string): string =>
  new Date(at).toLocaleString(locale, { dateStyle: 'medium', timeStyle: 'short', timeZone });

/** A moment as the browser’s own clock tells it: of several workbooks, each may have another. */
export const sayOwnMoment = (at: number): string =>
  new Date(at).toLocaleString(navigator.language, { dateStyle: 'medium', timeStyle: 'short' });
