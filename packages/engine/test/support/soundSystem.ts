import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);

/** An output of a test's own sound system, whose monitor is what is recorded; a microphone is one too, played into. */
export interface TestOutput {
  name: string;
  rateHz?: number;
  channels?: string;
  words?: string;
}

export const stereo = 'front-left,front-right';

/** A sound system of a test's own: PulseAudio without hardware, where null sinks stand in for outputs and microphones. */
export interface TestSoundSystem {
  addOutput(output: TestOutput): Promise<void>;
  /** A microphone that hears what is played to an output of the same name with "-in". */
  addMicrophone(output: TestOutput): Promise<void>;
  remove(name: string): Promise<void>;
  /** Plays interleaved samples to an output until it is stopped. */
  play(output: string, rateHz: number, channels: string, samples: Float32Array, program?: string): TestPlayer;
  pactl(...words: string[]): Promise<string>;
  close(): Promise<void>;
}

export interface TestPlayer {
  stop(): Promise<void>;
}

async function ended(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const over = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  child.kill('SIGKILL');
  await over;
}

export async function openSoundSystem(outputs: readonly TestOutput[]): Promise<TestSoundSystem> {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-sound-'));
  const before = { ...process.env };
  Object.assign(process.env, {
    PULSE_RUNTIME_PATH: folder,
    PULSE_SERVER: `unix:${join(folder, 'native')}`,
    HOME: folder,
  });
  // Programs that a test starts get the environment of Node itself, and not the test's own.
  const env = { ...process.env };
  const script = join(folder, 'begin.pa');
  writeFileSync(script, 'load-module module-native-protocol-unix\nload-module module-rescue-streams\n');
  const server = spawn(
    'pulseaudio',
    ['-n', '-F', script, '--daemonize=no', '--exit-idle-time=-1', '--use-pid-file=no', '--disable-shm=yes'],
    { stdio: 'ignore', env },
  );
  const modules = new Map<string, string[]>();
  const players = new Set<ChildProcess>();
  const pactl = async (...words: string[]): Promise<string> => (await run('pactl', words, { env })).stdout.trim();
  for (let tries = 0; ; tries++) {
    if (
      await pactl('info').then(
        () => true,
        () => false,
      )
    )
      break;
    if (tries > 100 || server.exitCode !== null) throw new Error('no sound system could be started');
    await new Promise((resolve) => setTimeout(resolve, 100));
  }

  async function load(name: string, ...words: string[]): Promise<void> {
    const number = await pactl('load-module', ...words);
    modules.set(name, [...(modules.get(name) ?? []), number]);
  }

  const sink = ({ rateHz = 48_000, channels = stereo, words }: TestOutput, name: string): string[] => [
    'module-null-sink',
    `sink_name=${name}`,
    `rate=${rateHz}`,
    `channels=${channels.split(',').length}`,
    `channel_map=${channels}`,
    `sink_properties="device.description='${words ?? name}'"`,
  ];

  const system: TestSoundSystem = {
    pactl,
    addOutput: (output) => load(output.name, ...sink(output, output.name)),
    async addMicrophone(output) {
      await load(output.name, ...sink(output, `${output.name}-in`));
      await load(
        output.name,
        'module-remap-source',
        `master=${output.name}-in.monitor`,
        `source_name=${output.name}`,
        `source_properties="device.description='${output.words ?? output.name}'"`,
      );
    },
    async remove(name) {
      for (const number of (modules.get(name) ?? []).reverse()) await pactl('unload-module', number);
      modules.delete(name);
    },
    play(output, rateHz, channels, samples, program = 'Test player') {
      const layout = [
        '--raw',
        '--format=float32le',
        `--rate=${rateHz}`,
        `--channels=${channels.split(',').length}`,
        `--channel-map=${channels}`,
      ];
      // Half a second ahead: what is played must not stop where the PC lets the player wait.
      const child = spawn('pacat', ['-p', '-d', output, ...layout, '--latency-msec=500', `--client-name=${program}`], {
        stdio: ['pipe', 'ignore', 'ignore'],
        env,
      });
      players.add(child);
      const bytes = Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength);
      const feed = (): void => void child.stdin?.write(bytes, (error) => !error && feed());
      child.stdin?.on('error', () => {});
      feed();
      return {
        async stop() {
          players.delete(child);
          await ended(child);
        },
      };
    },
    async close() {
      await Promise.all([...players].map(ended));
      await ended(server);
      for (const name of ['PULSE_RUNTIME_PATH', 'PULSE_SERVER', 'HOME'])
        if (before[name] === undefined) delete process.env[name];
        else process.env[name] = before[name];
      rmSync(folder, { recursive: true, force: true });
    },
  };
  for (const output of outputs) await system.addOutput(output);
  return system;
}
