// What a test waits for comes late where the machine is busy; it fails by what it sees and not by the clock.
require('@testing-library/react').configure({ asyncUtilTimeout: 15_000 });
require('@testing-library/jest-dom');

// What a browser would put elsewhere than it was written, React tells on the console only: such a page fails its test.
const misplaced = [];
const report = console.error;
console.error = (...texts) => {
  const text = texts.map(String).join(' ');
  if (/cannot (be a descendant|contain)|validateDOMNesting/.test(text)) misplaced.push(text);
  else report(...texts);
};
afterEach(() => {
  const found = misplaced.splice(0);
  if (found.length) throw new Error(found.join('\n'));
});
