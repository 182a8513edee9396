import { useEffect, useRef } from "react";
import type { Picture } from "../view/preview";

/** A small mask in black and white. */
export function MaskPicture({ picture, label, height }: { picture: Picture | null; label: string; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!picture || !context) return;
    const image = context.createImageData(picture.width, picture.height);
    for (let i = 0; i < picture.data.length; i++) {
      image.data.fill(picture.data[i], i * 4, i * 4 + 3);
      image.data[i * 4 + 3] = 255;
    }
    context.putImageData(image, 0, 0);
  }, [picture]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      width={picture?.width ?? 192}
      height={picture?.height ?? 72}
      style={{ width: "100%", height, objectFit: "cover", background: "#3c3c3c", display: "block" }}
    />
  );
}
