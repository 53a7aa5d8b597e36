import type { layoutColumns } from '../columnLayout';
import type { Outline } from '../formula/ranges';
import { lineCount, type Lines } from '../lines';
import { lineTop, type Geometry } from './geometry';

/** The ranges of the formula that is being typed, each by an outline and its letter. */
export function Outlines({
  outlines,
  lines,
  geometry,
  layout,
  part,
}: {
  outlines: readonly Outline[];
  lines: Lines;
  geometry: Geometry;
  layout: ReturnType<typeof layoutColumns>;
  part: 'free' | 'records';
}) {
  const [first, last] =
    part === 'free' ? [0, lines.freeRows - 1] : [lines.freeRows + 1, lineCount(lines) - 1];
  return outlines.map(({ box, letter, tone }) => {
    const top = Math.max(box.top, first);
    const bottom = Math.min(box.bottom, last);
    if (top > bottom || box.left >= layout.count) return null;
    const left = layout.offsets[box.left] ?? 0;
    const right = layout.offsets[Math.min(box.right, layout.count - 1) + 1] ?? left;
    const upper = lineTop(geometry, lines, top);
    return (
      <div
        key={letter}
        className={`grid-outline tone-${tone}`}
        aria-hidden
        style={{
          left: layout.numberPx + left,
          width: right - left,
          top: upper,
          height: lineTop(geometry, lines, bottom) + geometry.rowPx - upper,
        }}
      >
        <span className={`range-letter tone-${tone}`}>{letter}</span>
      </div>
    );
  });
}
