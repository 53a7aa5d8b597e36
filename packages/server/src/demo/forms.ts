import { STATEMENTS } from './seasonSurvey';

/** The demo's forms as outlines, each with the sheet it writes into. */
export const DEMO_FORMS: readonly { readonly sheet: string; readonly outline: string }[] = [
  {
    sheet: 'Samples',
    outline: `
      form: Log a sample
      look: dense, wide
      after: say "Sample of {Station} stored."

      Number: running number RW-00000, must be unique
      Date: date, must not be after today "This day is still to come. Check the date.", required, starts today, beside
      Time: time, required, hint "When the bottle was filled", beside
      River: one of Stations!'River', required
      Station: one of Stations!'Code', shown with 'Name', narrowed by 'River', fills River, required, beside
      Observer: one of Volunteers!'Name', sorted, required, beside
      Training: one of, starts = XLOOKUP('Observer';Volunteers!'Name';Volunteers!'Training level';""), beside
      // Readings, in the order in which they are taken
      Water temp: number, must be from -1 to 35, required
      Air temp: number -30..45, beside
      pH: number, must be from 0 to 14, ask above 9 "{value} is high. Rinse the meter and read again.", required, beside
      Oxygen: number, must be from 0 to 20, beside
      Turbidity: whole number, at least 0
      Nitrate: number, at least 0, beside
      Weather: one of Choices!A4.., beside
      Flow: one of Choices!B4.., beside
      message caution: IF('Turbidity'>100;"Cloudy as after a storm. Read the tube again.";"")
      Meter rinsed before reading: yes/no, column "Meter rinsed"
      Smell: several of Choices!C4.., in a row, beside
      Notes: lines, width 7
      Photo: file, only images, up to 10 MB, beside
    `,
  },
  {
    sheet: 'Volunteers',
    outline: `
      form: Register a volunteer
      look: labels beside, narrow
      after: say "{Name} is on the roster."

      Id: text, must be written like "9999", required, hint "Four figures, zeros too", starts next, key
      Name: text, required
      Mail: text, must be an email address
      Phone: text, must be a phone number (GB)
      Training level: radio of, required, in a row
      Kit no.: whole number with steps 1..40, by 1
    `,
  },
  {
    sheet: 'Kit loans',
    outline: `
      form: Lend kit
      look: accent slate

      Borrower: one of Volunteers!'Name', sorted, required, width 6
      Item: one of Choices!E4.., required, beside, width 6
      Deposit: money, must be from 2 to 250, starts = XLOOKUP('Item';Choices!E4:E10;Choices!F4:F10;""), hint "From the list of prices"
      Quantity: whole number with steps 1..20, starts "1", by 1, beside
      Total: computed, beside
      Out: date, required, starts today, kept
      Due: computed, beside
      message good: IF(COUNTIF('Kit loans'!'Borrower';'Borrower')>5;"Borrowed more than five times: ask for half of the deposit.";"")
    `,
  },
  {
    sheet: 'Sightings',
    outline: `
      form: Report a sighting
      look: accent slate, narrow, roomy
      after: say "Thank you. We look at every report, and at this one today."

      note: "Seen something wrong in the water? Tell us **what** and **where**; it takes a minute."
      What did you see?: radio of, required, column "What"
      Please say what you saw: lines, required, shown when 'What'="Something else", column "Other"
      How bad is it?: steps 1..5, required, hint "1 is a trace, 5 is a river in danger", column "How bad"
      River: one of
      Where: text, required, hint "A bridge, a path, a station's code"
      When: moment, starts now, column "Seen at"
      Photo: file, only images, up to 10 MB
      page: Shall we get in touch?
      May we ask you more?: yes/no, column "Contact"
      How: radio of, required, shown when 'Contact', in a row
      Phone: phone GB, required, shown when 'How'="Phone"
      Mail: email, required, shown when 'How'="Mail"
      message good: IF('Contact';"Thank you. We ring or write within two days.";"")
      message note: IF(AND('How bad'>=4;NOT('Contact'));"With a number we can act today.";"")
    `,
  },
  {
    sheet: 'Season survey',
    outline: `
      form: Season survey
      look: accent pine, roomy
      after: say "Thank you for the season."

      heading: The season behind us
      How far do you agree?: statements of Choices!H4.., required
        ${STATEMENTS.map(([heading, statement]) => `${statement}, column "${heading}"`).join('\n        ')}
      Where would you sample next season?: radio of, in a row, column "River"
      Would you stay on for another season?: scale 1..7, ends "on no account" and "gladly", column "Stay"
      In your own words: lines, high 4 lines, column "Words"
    `,
  },
];
