// Compiles the kernels, AssemblyScript to WebAssembly, into the modules that load them. The results are kept in the
// repository, so that only who changes a kernel needs the compiler; `--check` holds the two together.
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import asc from 'assemblyscript/asc';
import { format } from 'prettier';

const kernels = [
  {
    source: 'packages/engine/kernels/convertPixels.ts',
    target: 'packages/engine/src/convert/kernelBytes.ts',
    // The memory is the pictures': as large as they need, shared by the threads.
    memory: ['--enable', 'threads', '--sharedMemory', '--maximumMemory', '65536'],
  },
  {
    source: 'packages/practice/kernels/cathedral.ts',
    target: 'packages/practice/src/cathedralKernelBytes.ts',
    memory: [],
  },
];

async function compiled({ source, memory }) {
  const options = [
    '--runtime',
    'stub',
    '-O3',
    '--noAssert',
    '--enable',
    'simd',
    '--importMemory',
    '--initialMemory',
    '1',
  ];
  let bytes = new Uint8Array();
  const { error, stderr } = await asc.main([source, '--outFile', 'kernel.wasm', ...options, ...memory], {
    writeFile: (name, contents) => {
      if (name === 'kernel.wasm') bytes = contents;
    },
  });
  if (error) throw new Error(`${error.message}\n${stderr.toString()}`);
  return bytes;
}

for (const kernel of kernels) {
  const base64 = Buffer.from(await compiled(kernel)).toString('base64');
  const folder = dirname(kernel.source);
  const text = await format(
    `/** Made by scripts/build-kernels.mjs from ${folder}; not to be changed by hand. */
export const kernelBase64 =
  '${base64}';
`,
    { parser: 'typescript', singleQuote: true, printWidth: 120 },
  );
  if (!process.argv.includes('--check')) writeFileSync(kernel.target, text);
  else if (readFileSync(kernel.target, 'utf8') !== text) {
    console.error(`${kernel.target} is not what ${kernel.source} compiles to: run node scripts/build-kernels.mjs`);
    process.exitCode = 1;
  }
}
