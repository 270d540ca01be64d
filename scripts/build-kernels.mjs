// Compiles the engine's kernels, AssemblyScript to WebAssembly, into the module that its threads load. The result is
// kept in the repository, so that only who changes a kernel needs the compiler; `--check` holds the two together.
import { readFileSync, writeFileSync } from 'node:fs';
import asc from 'assemblyscript/asc';
import { format } from 'prettier';

const source = 'packages/engine/kernels/convertPixels.ts';
const target = 'packages/engine/src/convert/kernelBytes.ts';

async function compileKernels() {
  const options = ['--runtime', 'stub', '-O3', '--noAssert', '--enable', 'simd', '--enable', 'threads'];
  // The memory is the pictures': as large as they need, shared by the threads.
  const memory = ['--importMemory', '--sharedMemory', '--initialMemory', '1', '--maximumMemory', '65536'];
  let bytes = new Uint8Array();
  const { error, stderr } = await asc.main([source, '--outFile', 'kernel.wasm', ...options, ...memory], {
    writeFile: (name, contents) => {
      if (name === 'kernel.wasm') bytes = contents;
    },
  });
  if (error) throw new Error(`${error.message}\n${stderr.toString()}`);
  return bytes;
}

const base64 = Buffer.from(await compileKernels()).toString('base64');
const text = await format(
  `/** Made by scripts/build-kernels.mjs from packages/engine/kernels; not to be changed by hand. */
export const kernelBase64 =
  '${base64}';
`,
  { parser: 'typescript', singleQuote: true, printWidth: 120 },
);
if (!process.argv.includes('--check')) writeFileSync(target, text);
else if (readFileSync(target, 'utf8') !== text) {
  console.error(`${target} is not what ${source} compiles to: run node scripts/build-kernels.mjs`);
  process.exitCode = 1;
}
