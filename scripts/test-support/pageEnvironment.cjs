// A page without a browser: jsdom, with what it lacks and our libraries ask for.
const { TestEnvironment } = require('jest-environment-jsdom');

module.exports = class PageEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    Object.assign(this.global, {
      TextEncoder,
      TextDecoder,
      fetch,
      Request,
      Response,
      Headers,
      ReadableStream,
      TransformStream,
      WritableStream,
      structuredClone,
      BroadcastChannel,
      AbortController,
      AbortSignal,
    });
    this.global.ResizeObserver = class {
      observe() {}
      unobserve() {}
      disconnect() {}
    };
    this.global.matchMedia = (query) => ({
      matches: false,
      media: query,
      addEventListener() {},
      removeEventListener() {},
      addListener() {},
      removeListener() {},
    });
  }
};
