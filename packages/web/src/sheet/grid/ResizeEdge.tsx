import { LEAST_WIDTH, MOST_WIDTH } from '@varn/contract/limits';

/** The edge of a column, drawn to make it wider and pressed twice to fit it; by keyboard in the notes and the menu. */
export function ResizeEdge({
  width,
  onResize,
  onFit,
}: {
  width: number;
  onResize: (width: number) => void;
  onFit: () => void;
}) {
  return (
    <div
      className="grid-edge"
      aria-hidden
      onPointerDown={(event) => {
        event.stopPropagation();
        event.preventDefault();
        const edge = event.currentTarget;
        edge.setPointerCapture(event.pointerId);
        const start = event.clientX;
        const widthAt = (x: number): number =>
          Math.round(Math.min(MOST_WIDTH, Math.max(LEAST_WIDTH, width + x - start)));
        const move = (moved: PointerEvent): void => {
          edge.style.transform = `translateX(${widthAt(moved.clientX) - width}px)`;
        };
        edge.addEventListener('pointermove', move);
        edge.addEventListener(
          'pointerup',
          (ended: PointerEvent) => {
            edge.removeEventListener('pointermove', move);
            edge.style.transform = '';
            if (widthAt(ended.clientX) !== width) onResize(widthAt(ended.clientX));
          },
          { once: true },
        );
      }}
      onMouseDown={(event) => event.stopPropagation()}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onFit();
      }}
    />
  );
}
