import { useEffect } from "react";
import * as THREE from "three";
import { useThree } from "@react-three/fiber";
import { useTones, type FinishStep } from "./finishes";
import { useUniforms } from "../view/uniforms";

/** Draws the picture with the tones of a finish, as far as these follow from colours alone. */
export function FinishTones({ steps }: { steps: FinishStep[] }) {
  const invalidate = useThree((state) => state.invalidate);
  const { tones } = useUniforms();
  const found = useTones(steps);
  useEffect(() => {
    if (!found) return undefined;
    const { data, shape } = found.arrays.table;
    const table = new THREE.Data3DTexture(data as Uint16Array<ArrayBuffer>, shape[2], shape[1], shape[0]);
    table.type = THREE.HalfFloatType;
    table.minFilter = table.magFilter = THREE.LinearFilter;
    table.needsUpdate = true;
    tones.toneTable.value = table;
    tones.toneBends.value = found.meta.bends;
    tones.toneMost.value = found.meta.most;
    invalidate();
    return () => {
      if (tones.toneTable.value === table) tones.toneTable.value = null;
      table.dispose();
      invalidate();
    };
  }, [found, tones, invalidate]);
  return null;
}
