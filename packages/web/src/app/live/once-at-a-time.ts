import { Observable, type OperatorFunction, type Subscription } from 'rxjs';

/** Runs one load at a time; a change during a load triggers another load after it, so that the latest is never missed. */
export function onceAtATime<T>(load: () => Observable<T>): OperatorFunction<unknown, T> {
  return (source) =>
    new Observable<T>((subscriber) => {
      let running = false;
      let again = false;
      let inner: Subscription | undefined;
      const run = (): void => {
        running = true;
        again = false;
        inner = load().subscribe({
          next: (value) => subscriber.next(value),
          error: (error: unknown) => subscriber.error(error),
          complete: () => {
            running = false;
            if (again) run();
          },
        });
      };
      const outer = source.subscribe(() => {
        if (running) again = true;
        else run();
      });
      return () => {
        outer.unsubscribe();
        inner?.unsubscribe();
      };
    });
}
