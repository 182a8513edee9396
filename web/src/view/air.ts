import * as THREE from "three";
import type { DaylightMeta } from "../api/daylight";
import type { Pack } from "../api/pack";
import { drawnByProcessor } from "../site/machine";
import type { Uniforms } from "./uniforms";
import { Waters } from "./water/waters";

/** Steps along a way through banks of fog. */
const STEPS = drawnByProcessor ? 12 : 32;
/** Beyond so many sides of their map, fog is as even as the mean of its banks. */
const BANKS_SEEN = 3;
/** Degrees over the horizon at which haze takes its colour: the lowest row above it of the sky that lights. */
const LEVEL = 0.7;

/**
 * What is left of the picture behind the air, as `cenote.light.air` has it: each line of `Medium` is one here. Haze sends what the sky
 * does just above the horizon, fog what comes from all sides and the sun's light onwards.
 */
const fragment = `
uniform sampler2D picture;
uniform highp sampler2D depths;
uniform sampler2D around;
uniform sampler2D banks;
uniform mat4 unprojected;
uniform vec3 eye;
uniform bool reversed;
uniform float airHaze;
uniform vec3 airDust;
uniform float fogThick;
uniform float fogTop;
uniform float fogFade;
uniform vec3 fogLight;
uniform vec3 fogSun;
uniform vec3 sunWay;
uniform float fogLobe;
uniform float fogBanks;
uniform float banksLong;
uniform highp sampler3D sunlit;
uniform vec3 sunlitLow;
uniform vec3 sunlitSpan;
uniform bool toned;
uniform highp sampler3D toneTable;
uniform float toneBends;
uniform float toneMost;
uniform vec2 windWay;
uniform float windStrength;
uniform float windTime;
varying vec2 at;
float dense(float y) {
  return exp(-max(y - fogTop, 0.0) / fogFade);
}
float climbed(float y) {
  float above = y - fogTop;
  return above < 0.0 ? above : fogFade * (1.0 - exp(-above / fogFade));
}
float evenFog(vec3 start, vec3 way, float far, bool sky) {
  if (sky) return (fogFade - climbed(start.y)) / max(way.y, 0.03);
  float climb = far * way.y;
  return abs(climb) < 1e-3 ? dense(start.y + climb / 2.0) * far : (climbed(start.y + climb) - climbed(start.y)) / way.y;
}
float bank(vec3 place) {
  // Banks lean and change with the height; the wind carries them.
  vec2 spot = (place.xz - windWay * windStrength * windTime + place.y * vec2(0.7, 0.4)) / banksLong;
  float thick = 0.65 * texture2D(banks, spot).r + 0.35 * texture2D(banks, spot * 2.7 + 0.37).r;
  return mix(1.0, thick, fogBanks);
}
float inSun(vec3 place) {
  vec3 spot = (place - sunlitLow) / sunlitSpan;
  bool known = all(greaterThan(spot, vec3(0.0))) && all(lessThan(spot, vec3(1.0)));
  return known ? texture(sunlit, spot).r : 1.0;
}
// How deep the fog is along a way, and of the sun's light that it sends on the share that it gets.
vec2 fogAlong(vec3 way, float far, bool sky) {
  float whole = evenFog(eye, way, far, sky);
  bool shaded = sunlitSpan.x > 0.0;
  if (fogBanks <= 0.0 && !shaded) return vec2(fogThick * whole, 1.0);
  float seen = ${BANKS_SEEN.toFixed(1)} * banksLong, near = sky ? seen : min(far, seen);
  // Where fog is thin, far up, there is nothing to step through.
  if (way.y > 1e-3) near = min(near, max((fogTop + 4.0 * fogFade - eye.y) / way.y, 0.0));
  if (way.y < -1e-3 && eye.y > fogTop + 4.0 * fogFade) near = min(far, 1e4);
  // Shade is looked for at another place of each step from pixel to pixel, or its edges would show the steps.
  float shift = fract(52.9829189 * fract(dot(gl_FragCoord.xy, vec2(0.06711056, 0.00583715))));
  float stepped = 0.0, passed = 0.0, weight = 0.0, sunny = 0.0;
  for (int i = 0; i < ${STEPS}; i++) {
    float a = float(i) / ${STEPS.toFixed(1)}, b = float(i + 1) / ${STEPS.toFixed(1)};
    float from = near * a * a, to = near * b * b;
    vec3 place = eye + way * (from + to) / 2.0;
    float even = dense(place.y) * (to - from), thick = bank(place) * even;
    float sent = exp(-fogThick * stepped) * (1.0 - exp(-fogThick * thick));
    stepped += thick;
    passed += even;
    weight += sent;
    sunny += shaded ? sent * inSun(eye + way * mix(from, to, shift)) : sent;
  }
  float rest = max(whole - passed, 0.0), sent = exp(-fogThick * stepped) * (1.0 - exp(-fogThick * rest));
  return vec2(fogThick * (stepped + rest), weight + sent > 1e-9 ? (sunny + sent) / (weight + sent) : 1.0);
}
vec3 level(vec3 way) {
  vec3 look = normalize(vec3(way.x, ${Math.sin((LEVEL * Math.PI) / 180).toFixed(5)}, way.z));
  return texture2D(around, vec2(atan(look.z, look.x) / ${(2 * Math.PI).toFixed(6)} + 0.5, asin(look.y) / ${Math.PI.toFixed(6)} + 0.5)).rgb;
}
void main() {
  float deep = texture2D(depths, at).r;
  bool sky = reversed ? deep <= 0.0 : deep >= 1.0;
  vec4 place = unprojected * vec4(at * 2.0 - 1.0, reversed ? max(deep, 1e-7) : deep * 2.0 - 1.0, 1.0);
  vec3 away = place.xyz / place.w - eye;
  float far = length(away);
  vec3 way = away / far;
  vec3 colour = texture2D(picture, at).rgb;
  if (!sky) {
    float haze = exp(-airHaze * far);
    colour = mix(level(way) * airDust, colour, haze);
  }
  if (fogThick > 0.0) {
    float g = fogLobe, lobe = (1.0 - g * g) / (12.566371 * pow(1.0 + g * g - 2.0 * g * dot(way, sunWay), 1.5));
    vec2 fog = fogAlong(way, far, sky);
    colour = mix(fogLight + fogSun * (lobe * fog.y), colour, exp(-fog.x));
  }
  gl_FragColor = vec4(colour, 1.0);
  // What is laid over the picture is hidden by what stands before it.
  gl_FragDepth = deep;
  if (toned) {
    // By the middles of the table's colours, from its first to its last.
    vec3 share = log(1.0 + clamp(colour, 0.0, toneMost) * toneBends) / log(1.0 + toneMost * toneBends);
    float side = float(textureSize(toneTable, 0).x);
    gl_FragColor.rgb = texture(toneTable, (share * (side - 1.0) + 0.5) / side).rgb;
  } else {
    #include <tonemapping_fragment>
    #include <colorspace_fragment>
  }
}`;

const vertex = `
varying vec2 at;
void main() {
  at = uv;
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;

/** Samples a pixel of so many: four, or two where four would take half a gigabyte; none where the processor draws. */
const samplesFor = (pixels: number) => (drawnByProcessor ? 0 : pixels > 5e6 ? 2 : 4);

/** Draws a scene through the air: to a picture of its light first, which is then put on the page behind what the air sends. */
export class ThroughAir {
  private readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly scene = new THREE.Scene();
  private readonly unprojected = { value: new THREE.Matrix4() };
  private readonly eye = { value: new THREE.Vector3() };
  private target: THREE.WebGLRenderTarget | null = null;
  private material: THREE.ShaderMaterial | null = null;
  private readonly size = new THREE.Vector2();
  private readonly waters = new Waters();

  /** @param mirrors Whether what water mirrors is drawn anew. */
  draw(gl: THREE.WebGLRenderer, scene: THREE.Scene, camera: THREE.Camera, uniforms: Uniforms, mirrors: boolean) {
    const target = this.sized(gl);
    const material = (this.material ??= this.made(gl, uniforms));
    const water = this.waters.inSight(uniforms, camera);
    gl.setRenderTarget(target);
    gl.render(scene, camera);
    this.waters.draw(gl, scene, camera, target, uniforms, water, mirrors);
    gl.setRenderTarget(null);
    material.uniforms.picture.value = target.texture;
    material.uniforms.depths.value = target.depthTexture;
    material.uniforms.toned.value = uniforms.tones.toneTable.value !== null;
    this.unprojected.value.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).invert();
    this.eye.value.setFromMatrixPosition(camera.matrixWorld);
    gl.render(this.scene, this.camera);
  }

  private sized(gl: THREE.WebGLRenderer): THREE.WebGLRenderTarget {
    const { x, y } = gl.getDrawingBufferSize(this.size);
    const samples = samplesFor(x * y);
    if (this.target && this.target.samples !== samples) {
      this.target.dispose();
      this.target = null;
    }
    if (!this.target) {
      this.target = new THREE.WebGLRenderTarget(x, y, {
        type: THREE.HalfFloatType,
        samples,
        depthTexture: new THREE.DepthTexture(x, y, THREE.FloatType),
      });
    } else if (this.target.width !== x || this.target.height !== y) this.target.setSize(x, y);
    return this.target;
  }

  private made(gl: THREE.WebGLRenderer, { air, sky, wind, tones }: Uniforms): THREE.ShaderMaterial {
    // eslint-disable-next-line @typescript-eslint/no-unused-vars -- the one that is no uniform
    const { shown, ...ours } = air;
    const { windWay, windStrength, windTime } = wind;
    const material = new THREE.ShaderMaterial({
      uniforms: {
        ...ours,
        ...tones,
        toned: { value: false },
        ...{ around: sky.around, windWay, windStrength, windTime },
        ...{ unprojected: this.unprojected, eye: this.eye },
        picture: { value: null },
        depths: { value: null },
        reversed: { value: gl.capabilities.reversedDepthBuffer },
      },
      vertexShader: vertex,
      fragmentShader: fragment,
      depthFunc: THREE.AlwaysDepth,
      toneMapped: true,
    });
    const sheet = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), material);
    sheet.frustumCulled = false;
    this.scene.add(sheet);
    return material;
  }
}

/** Banks of fog as a texture that goes on in all directions. */
function banksOf({ arrays }: Pack<DaylightMeta>): THREE.DataTexture | null {
  if (!arrays.banks) return null;
  const { data, shape } = arrays.banks;
  const texture = new THREE.DataTexture(data as Float32Array, shape[1], shape[0], THREE.RedFormat, THREE.FloatType);
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.minFilter = texture.magFilter = THREE.LinearFilter;
  texture.needsUpdate = true;
  return texture;
}

/** Have fog show where the sun shines through it; what is given back takes that down again. */
export function shine({ air }: Uniforms, { arrays }: Pack): () => void {
  const { data, shape } = arrays.lit;
  const texture = new THREE.Data3DTexture(data as Uint8Array<ArrayBuffer>, shape[2], shape[1], shape[0]);
  texture.format = THREE.RedFormat;
  texture.minFilter = texture.magFilter = THREE.LinearFilter;
  texture.unpackAlignment = 1;
  texture.needsUpdate = true;
  air.sunlit.value = texture;
  air.sunlitLow.value.fromArray(arrays.box.data, 0);
  air.sunlitSpan.value.fromArray(arrays.box.data, 3);
  return () => {
    if (air.sunlit.value === texture) {
      air.sunlit.value = null;
      air.sunlitSpan.value.setScalar(0);
    }
    texture.dispose();
  };
}

/** Set a view's air; what is given back takes down what was made for it. */
export function breathe({ air }: Uniforms, pack: Pack<DaylightMeta>): () => void {
  const { meta } = pack;
  air.airHaze.value = meta.air.haze;
  air.airDust.value.fromArray(meta.dust);
  air.fogThick.value = meta.air.fog;
  air.fogTop.value = meta.air.top;
  air.fogFade.value = meta.air.fade;
  air.fogLobe.value = meta.air.lobe;
  air.fogBanks.value = meta.air.banks;
  air.banksLong.value = meta.air.size * meta.air.side;
  air.fogLight.value.fromArray(meta.fog);
  air.fogSun.value.fromArray(meta.fog_sun);
  air.sunWay.value.fromArray(meta.direction);
  const banks = banksOf(pack);
  air.banks.value = banks;
  return () => {
    if (air.banks.value === banks) air.banks.value = null;
    banks?.dispose();
  };
}
