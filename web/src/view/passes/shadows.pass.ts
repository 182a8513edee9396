import type { PassModule } from "./pass";

/**
 * Says whether shadows are drawn anew: when something has moved, or other things cast them into the picture. They take as long as
 * all the rest: a slow machine draws them once a drag is over.
 */
export const pass: PassModule = {
  order: 20,
  name: "shadows",
  make: () => {
    let cast = 0;
    let owed = false;
    return ({ gl: { shadowMap }, copies, hurried, moving, still, blowing }) => {
      if (copies.shadows !== cast && !moving && !hurried && !still) {
        cast = copies.shadows;
        shadowMap.needsUpdate = true;
      }
      owed ||= shadowMap.needsUpdate;
      shadowMap.needsUpdate = owed && (!hurried || blowing);
      owed &&= !shadowMap.needsUpdate;
    };
  },
};
