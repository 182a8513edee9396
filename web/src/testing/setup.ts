import { configure } from "@testing-library/dom";

// jsdom draws nothing; what would be drawn on a canvas is left out, as on a machine without WebGL.
HTMLCanvasElement.prototype.getContext = () => null;

// On a busy machine what is waited for may take its time to come.
configure({ asyncUtilTimeout: 30_000 });
