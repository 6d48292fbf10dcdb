import { vi } from 'vitest';

/** Charts without a width: nothing is drawn, and what a page says in words and figures is what is looked at. */
export function stubDrawing(): void {
  const nothing = () => undefined;
  // Older names too, by which the calendar asks.
  const listening = {
    addEventListener: nothing,
    removeEventListener: nothing,
    addListener: nothing,
    removeListener: nothing,
  };
  vi.stubGlobal('matchMedia', () => listening);
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe = nothing;
      disconnect = nothing;
    },
  );
}
