import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { usePack } from "../api/queries";
import { useSiteContext } from "../site/context";
import { shine } from "./air";
import { uniformsOf } from "./uniforms";

/** The sun's shafts through fog: where it shines through the air of the site. */
export function Shafts({ sunlit }: { sunlit: string }) {
  const { siteId } = useSiteContext();
  const { scene, invalidate } = useThree();
  const pack = usePack(sunlit ? `/api/sites/${siteId}/sunlit?key=${sunlit}` : null).data;
  useEffect(() => {
    if (!pack) return undefined;
    const end = shine(uniformsOf(scene), pack);
    invalidate();
    return () => {
      end();
      invalidate();
    };
  }, [pack, scene, invalidate]);
  return null;
}
