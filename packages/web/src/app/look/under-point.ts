/**
 * What lies under a point of the window.
 *
 * @param dragged what is being dragged there and covers the point
 * @returns the value of the nearest `data-` attribute of this name; null for none
 */
export function underPoint({ x, y }: { x: number; y: number }, name: string, dragged: Element): string | null {
  for (const element of document.elementsFromPoint(x, y)) {
    const marked = dragged.contains(element) ? null : element.closest(`[data-${name}]`);
    if (marked) return marked.getAttribute(`data-${name}`);
  }
  return null;
}
