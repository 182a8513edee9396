// jsdom draws nothing; what would be drawn on a canvas is left out, as on a machine without WebGL.
HTMLCanvasElement.prototype.getContext = () => null;
