/** Milliseconds that work takes before the page has a turn. */
const SLICE = 10;

/**
 * Do work that gives way now and then without holding up the page: what fits into a moment is done at once, the rest in turns.
 * Returns how to give it up.
 */
export function inSlices<Made>(
  work: Generator<void, Made>,
  done: (made: Made) => void,
  now: () => number = () => performance.now(),
): () => void {
  let timer: number | undefined;
  const turn = () => {
    const until = now() + SLICE;
    do {
      const step = work.next();
      if (step.done) return done(step.value);
    } while (now() < until);
    timer = window.setTimeout(turn);
  };
  turn();
  return () => window.clearTimeout(timer);
}
