import { cleanup, configure } from '@testing-library/react';
import { afterEach, vi } from 'vitest';

// Machines that build are slow, and jsdom takes long to tell whether something is hidden.
configure({ asyncUtilTimeout: 5_000, defaultHidden: true });

// Ant Design looks at the window's size and at the sizes of what it draws; jsdom draws nothing.
window.matchMedia = ((media: string) => ({
  matches: false,
  media,
  addListener: () => undefined,
  removeListener: () => undefined,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
})) as unknown as typeof window.matchMedia;
window.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
Element.prototype.scrollIntoView ??= () => undefined;

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});
