/** A moment as the workbook's locale and clock tell it: `28 Nov 2026, 04:13`. */
export const sayMoment = (at: number, locale: string, timeZone: string): string =>
  new Date(at).toLocaleString(locale, { dateStyle: 'medium', timeStyle: 'short', timeZone });
