import { TextDecoder as NodeTextDecoder, TextEncoder as NodeTextEncoder } from 'node:util';
import { setupZonelessTestEnv } from 'jest-preset-angular/setup-env/zoneless';

setupZonelessTestEnv();

afterEach(() => {
  jest.useRealTimers();
});

class NoResizeObserver {
  observe(): void {
    // jsdom lays nothing out.
  }
  unobserve(): void {
    // jsdom lays nothing out.
  }
  disconnect(): void {
    // jsdom lays nothing out.
  }
}
Object.assign(globalThis, {
  // Arrow reads and writes text; jsdom hides what Node has.
  TextDecoder: NodeTextDecoder,
  TextEncoder: NodeTextEncoder,
  ResizeObserver: NoResizeObserver,
  // jsdom has none; the documents of the tests are plain JSON.
  structuredClone: (value: unknown): unknown => JSON.parse(JSON.stringify(value)),
  matchMedia: () => ({ matches: false, addEventListener: () => undefined, removeEventListener: () => undefined }),
});

// jsdom lays nothing out, so nothing scrolls.
Element.prototype.scrollIntoView = () => undefined;
