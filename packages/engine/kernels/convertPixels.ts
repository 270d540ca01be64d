/**
 * Conversion of pixels between red, green and blue and luma with colour differences, in AssemblyScript: it becomes
 * WebAssembly with SIMD and works in the shared memory that the pictures lie in, so there is nothing of its own in it.
 * Addresses and strides are bytes; weights are fractions of 2^15, four of them packed into 64 bits, the first lowest.
 * Formulas: docs/model.md, "Converting pixels".
 */
export { fullDifferences, halvedDifferences } from './fromColours';
export { otherMatrix, otherMatrixFull } from './otherMatrix';
export { redGreenBlue } from './toColours';
