/** A row that is taken by its number and dropped above or below another of the same ledger. */
import { useEffect, useState, type RefObject } from 'react';

export type Edge = 'above' | 'below';

/** Comes after the rows: nobody drags what is not drawn yet. */
const adapter = () => import('@atlaskit/pragmatic-drag-and-drop/element/adapter');

const edgeAt = (element: Element, y: number): Edge => {
  const { top, height } = element.getBoundingClientRect();
  return y < top + height / 2 ? 'above' : 'below';
};

/** The edge over which a dragged row is held just now; `undefined` while none is. */
export const useRowDrag = (
  ledger: string,
  index: number,
  row: RefObject<HTMLElement | null>,
  handle: RefObject<HTMLElement | null>,
  onDrop: ((from: number, to: number, edge: Edge) => void) | undefined,
): Edge | undefined => {
  const [edge, setEdge] = useState<Edge | undefined>();
  const enabled = onDrop !== undefined;
  useEffect(() => {
    const element = row.current;
    const grip = handle.current;
    if (!enabled || !element || !grip) return;
    let left = false;
    const stops: (() => void)[] = [];
    void adapter().then(
      ({ draggable, dropTargetForElements }) => {
        if (left) return;
        stops.push(
          draggable({ element: grip, getInitialData: () => ({ ledger, index }) }),
          dropTargetForElements({
            element,
            canDrop: ({ source }) => source.data['ledger'] === ledger && source.data['index'] !== index,
            onDrag: ({ location }) => setEdge(edgeAt(element, location.current.input.clientY)),
            onDragLeave: () => setEdge(undefined),
            onDrop: ({ source, location }) => {
              setEdge(undefined);
              onDrop(source.data['index'] as number, index, edgeAt(element, location.current.input.clientY));
            },
          }),
        );
      },
      () => undefined,
    );
    return () => {
      left = true;
      stops.forEach((stop) => stop());
    };
  }, [enabled, onDrop, ledger, index, row, handle]);
  return edge;
};
