/** Whether WebGL is drawn by the processor here; then smoothing of edges and large shadow maps are left out. */
export const drawnByProcessor: boolean = (() => {
  const context = document.createElement("canvas").getContext("webgl2");
  const info = context?.getExtension("WEBGL_debug_renderer_info");
  const renderer = info ? String(context!.getParameter(info.UNMASKED_RENDERER_WEBGL)) : "";
  context?.getExtension("WEBGL_lose_context")?.loseContext();
  return /swiftshader|llvmpipe|softpipe|software|basic render/i.test(renderer);
})();
