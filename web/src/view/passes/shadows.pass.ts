import type { PassModule } from "./pass";

/**
 * Says whether shadows are drawn anew: when something has moved, or other things cast them into the picture. They take as long as
 * all the rest: a slow machine draws them once a drag is over. The one frame that shows more while all is still casts none: what
 * falls into the picture would follow from when something happened to come.
 */
export const pass: PassModule = {
  order: 20,
  name: "shadows",
  make: () => {
    let cast = 0;
    let owed = false;
    return ({ gl: { shadowMap }, copies, hurried, moving, still, blowing, invalidate }) => {
      if (copies.shadows !== cast && !moving && !hurried && !still) {
        cast = copies.shadows;
        shadowMap.needsUpdate = true;
      }
      owed ||= shadowMap.needsUpdate;
      shadowMap.needsUpdate = owed && !still && (!hurried || blowing);
      owed &&= !shadowMap.needsUpdate;
      if (owed && still) invalidate();
    };
  },
};
