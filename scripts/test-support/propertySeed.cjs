// Properties are tried with the same values in each run, so that a change is judged by what it changed; "npm run fuzz"
// tries others. FUZZ_SEED repeats a run that failed there.
const { configureGlobal } = require('fast-check');

configureGlobal({ seed: Number(process.env.FUZZ_SEED ?? 20_261_126) });
