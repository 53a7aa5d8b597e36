export { type OutlineOffer, type OutlineOffers, offersAt } from './offers';
export type { OutlineProblem } from './problem';
export { type OutlineReading, readOutline } from './read';
export { type OutlinedForm, writeOutline } from './write';
