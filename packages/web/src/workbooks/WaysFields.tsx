import { Choice } from '../ui/controls';
import { currencyNames, localeNames, timeZoneNames, type Ways } from '../ui/ways';

interface WaysFieldsProps {
  readonly ways: Ways;
  readonly onChange: (ways: Ways) => void;
}

/** How a workbook reads and shows values, to choose. */
export function WaysFields({ ways, onChange }: WaysFieldsProps) {
  const { locale, timeZone, currency } = ways;
  return (
    <>
      <Choice
        label="Dates and numbers as in"
        value={locale}
        options={localeNames(locale)}
        onChange={(value) => onChange({ ...ways, locale: value })}
      />
      <Choice
        label="Time zone"
        value={timeZone}
        options={timeZoneNames(timeZone)}
        onChange={(value) => onChange({ ...ways, timeZone: value })}
      />
      <Choice
        label="Usual currency"
        value={currency}
        options={currencyNames(currency)}
        onChange={(value) => onChange({ ...ways, currency: value })}
      />
    </>
  );
}
