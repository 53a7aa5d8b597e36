export { listCircle } from './circle';
export { ListFinder } from './finder';
export { ListIndex } from './listIndex';
export { type ListCounts, LiveList } from './liveList';
export { LIST_SENTENCES, narrowedBy, narrowedItems, narrowingDoubt } from './narrowing';
export { type Pair, pairsOf } from './pairs';
export { LONGEST_ITEM, MOST_ITEMS, type ListShape, type SourceRow } from './source';
export { type Splice, spliced, splicesOf } from './splices';
export { type CountedText, editsBetween, type Variants, variantsIn } from './variants';
