/** Text that people typed, as plain text of Markdown: no mark of it or of HTML, no line of its own. */
export const markdownText = (text: string): string =>
  text.replace(/[\r\n]+/g, ' ').replace(/[\\`*_{}[\]<>#|]/g, (sign) => `\\${sign}`);
