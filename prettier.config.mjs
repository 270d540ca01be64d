export default { printWidth: 120, singleQuote: true, trailingComma: 'all' };
