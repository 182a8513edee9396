/**
 * The one place where the pointer over the view is listened to by what is in the hand: brushes, outlines, handles and the probe
 * grip it, and nobody needs to race another by the order of listeners.
 */

/** What something in the hand makes of the pointer. True means: this was for me, and nobody else gets to see it. */
export interface Grip {
  press?: (event: PointerEvent) => boolean;
  move?: (event: PointerEvent) => boolean;
  release?: (event: PointerEvent) => boolean;
  /** The pointer is taken away in mid-press; as a release where it is left out. */
  cancel?: (event: PointerEvent) => boolean;
}

interface Frame {
  grips: Grip[];
  /** Whoever took the press that is going on. */
  holder: Grip | null;
  end: () => void;
}

const frames = new WeakMap<HTMLElement, Frame>();

function listen(frame: HTMLElement): Frame {
  const offer = (event: PointerEvent, to: (grip: Grip) => boolean | undefined): Grip | null => {
    for (const grip of state.holder ? [state.holder] : [...state.grips])
      if (to(grip)) {
        event.stopPropagation();
        return grip;
      }
    return null;
  };
  const press = (event: PointerEvent) => {
    const taken = offer(event, (grip) => grip.press?.(event));
    if (!taken) return;
    event.preventDefault();
    state.holder = taken;
    frame.setPointerCapture?.(event.pointerId);
  };
  const move = (event: PointerEvent) => void offer(event, (grip) => grip.move?.(event));
  const release = (event: PointerEvent) => {
    offer(event, (grip) => grip.release?.(event));
    state.holder = null;
  };
  const cancel = (event: PointerEvent) => {
    offer(event, (grip) => (grip.cancel ?? grip.release)?.(event));
    state.holder = null;
  };
  // Above all that listens on the view itself: what is gripped is no click and no turn of the camera.
  const above = frame.parentElement ?? frame;
  const listeners = { pointerdown: press, pointermove: move, pointerup: release, pointercancel: cancel };
  const types = Object.keys(listeners) as (keyof typeof listeners)[];
  for (const type of types) above.addEventListener(type, listeners[type], true);
  const end = () => {
    for (const type of types) above.removeEventListener(type, listeners[type], true);
  };
  const state: Frame = { grips: [], holder: null, end };
  return state;
}

/** Let something grip the pointer over a frame of the view, before all others where it is `first`; returns how to let go. */
export function gripping(frame: HTMLElement, grip: Grip, first = false): () => void {
  let state = frames.get(frame);
  if (!state) frames.set(frame, (state = listen(frame)));
  const { grips } = state;
  if (first) grips.unshift(grip);
  else grips.push(grip);
  return () => {
    grips.splice(grips.indexOf(grip), 1);
    if (state.holder === grip) state.holder = null;
    if (grips.length) return;
    state.end();
    frames.delete(frame);
  };
}
