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
