import * as THREE from "three";
import { describe, expect, it, vi } from "vitest";
import { textureOf } from "./textures";

vi.mock("../site/machine", () => ({ drawnByProcessor: true }));

describe("a texture of a pack's picture", () => {
  const pixels = { data: new Uint8Array(2 * 3 * 4), shape: [2, 3, 4] };

  it("is as wide as its rows are long", () => {
    const { image } = textureOf(pixels);
    expect([image.width, image.height]).toEqual([3, 2]);
  });

  it("tells colours from numbers, and what repeats from what ends", () => {
    const [plain, tile] = [textureOf(pixels), textureOf(pixels, { colour: true, wraps: true })];
    expect([plain.colorSpace, tile.colorSpace]).toEqual([THREE.NoColorSpace, THREE.SRGBColorSpace]);
    expect([plain.wrapS, tile.wrapT]).toEqual([THREE.ClampToEdgeWrapping, THREE.RepeatWrapping]);
  });
});
