/** What is long by nature is walked whole by "npm run soak", which a person runs; the matrix walks a part of it that has every value. */
export const soaks = process.env['MELLOW_SOAK'] === '1';
