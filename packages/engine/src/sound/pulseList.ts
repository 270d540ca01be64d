import { execFile } from 'node:child_process';
import { z } from 'zod';
import { channelPlaces, type ChannelPlace, type SoundDevice, type SoundDevices } from '@mellow/model';

/** Answers of `pactl -f json`: what is used here of them. */
const volumeSchema = z.record(z.string(), z.object({ db: z.string() }));
const endSchema = z.object({
  index: z.int(),
  name: z.string(),
  description: z.string().nullable(),
  sample_specification: z.string(),
  channel_map: z.string(),
  mute: z.boolean(),
  volume: volumeSchema,
  base_volume: z.object({ db: z.string() }).optional(),
});
const sourceSchema = endSchema.extend({ monitor_source: z.string().nullish() });
const programSchema = z.object({
  index: z.int(),
  sink: z.int(),
  properties: z.record(z.string(), z.string()).default({}),
});
const listenerSchema = z.object({
  index: z.int(),
  source: z.int(),
  properties: z.record(z.string(), z.string()).default({}),
});
const infoSchema = z.object({ default_sink_name: z.string().nullish(), default_source_name: z.string().nullish() });

/** How one end of the sound system is tapped. */
export interface PulseTap {
  /** Name of the source that is recorded from. */
  source: string;
  sourceIndex: number;
  /** Only what this stream plays there; null: all of it. */
  streamIndex: number | null;
  rateHz: number;
  channels: ChannelPlace[];
  /** The channels as the system itself names them. */
  channelMap: string;
  words: string;
}

export interface PulseState {
  sources: z.infer<typeof sourceSchema>[];
  sinks: z.infer<typeof endSchema>[];
  programs: z.infer<typeof programSchema>[];
  /** Streams that record now, and from where. */
  listeners: z.infer<typeof listenerSchema>[];
  defaultSink: string | null;
  defaultSource: string | null;
}

const answerMs = 4000;
/** Names of people's devices come as they are, not in the letters of some locale. */
export const pulseEnvironment = (): NodeJS.ProcessEnv => ({ ...process.env, LC_ALL: 'C.UTF-8' });

function pactl(...words: string[]): Promise<unknown> {
  return new Promise((resolve, reject) => {
    execFile(
      'pactl',
      ['-f', 'json', ...words],
      { env: pulseEnvironment(), timeout: answerMs, maxBuffer: 16e6, killSignal: 'SIGKILL' },
      (error, stdout, stderr) => {
        if (!error) return resolve(JSON.parse(stdout));
        reject(
          new Error(
            (error as NodeJS.ErrnoException).code === 'ENOENT'
              ? 'The programs that ask for sound are missing (Debian: install pulseaudio-utils).'
              : /refused|no such file|invalid server/i.test(stderr)
                ? 'No sound system runs for this user: neither PulseAudio nor PipeWire answers.'
                : `The sound system does not answer: ${stderr.trim() || 'no answer in 4 s'}.`,
          ),
        );
      },
    );
  });
}

/** Everything the sound system tells now. @throws in words where it does not answer */
export async function askPulse(): Promise<PulseState> {
  const info = infoSchema.parse(await pactl('info'));
  const [sources, sinks, programs, listeners] = await Promise.all([
    pactl('list', 'sources').then((found) => z.array(sourceSchema).parse(found)),
    pactl('list', 'sinks').then((found) => z.array(endSchema).parse(found)),
    pactl('list', 'sink-inputs').then((found) => z.array(programSchema).parse(found)),
    pactl('list', 'source-outputs').then((found) => z.array(listenerSchema).parse(found)),
  ]);
  return {
    sources,
    sinks,
    programs,
    listeners,
    defaultSink: info.default_sink_name ?? null,
    defaultSource: info.default_source_name ?? null,
  };
}

const decibels = (text: string | undefined): number | null => {
  const value = Number.parseFloat((text ?? '').replace(',', '.'));
  return Number.isFinite(value) ? value : null;
};

/** "s24le 2ch 48000Hz" */
export function sampleSpecification(text: string): { bits: number | null; rateHz: number } {
  const [format = '', , rate = ''] = text.split(/\s+/);
  const bits = Number.parseInt(format.replace(/^\D+/, ''), 10);
  return { bits: Number.isFinite(bits) ? bits : null, rateHz: Number.parseInt(rate, 10) || 48_000 };
}

/** "front-left,front-right,lfe": places that are not known here count as other ones. */
export const placesOf = (channelMap: string): ChannelPlace[] =>
  channelMap.split(',').map((name) => channelPlaces.find((place) => place === name.trim()) ?? 'other');

const isMonitor = (source: PulseState['sources'][number]): boolean => Boolean(source.monitor_source);

/** Name of the source that carries what a sink plays. */
const monitorOf = (state: PulseState, sink: string) => state.sources.find((source) => source.monitor_source === sink);

function deviceFacts(state: PulseState, source: PulseState['sources'][number]): SoundDevice {
  const sink = isMonitor(source) ? state.sinks.find(({ name }) => name === source.monitor_source) : undefined;
  const { bits, rateHz } = sampleSpecification(source.sample_specification);
  const end = sink ?? source;
  const levels = Object.values(end.volume).flatMap(({ db }) => decibels(db) ?? []);
  const volumeDb = levels.length ? Math.max(...levels) : null;
  const base = decibels(end.base_volume?.db) ?? 0;
  return {
    device: source.name,
    words: end.description ?? source.description ?? source.name,
    kind: sink || isMonitor(source) ? 'output' : 'microphone',
    usual: sink ? sink.name === state.defaultSink : source.name === state.defaultSource,
    rateHz,
    bits,
    channels: placesOf(source.channel_map),
    volumeDb,
    boostDb: volumeDb === null ? null : Math.max(0, volumeDb - base),
    muted: end.mute,
  };
}

/** Names of a program, the best first. */
const programName = ({ properties }: PulseState['programs'][number]): string =>
  properties['application.process.binary'] ?? properties['application.name'] ?? properties['media.name'] ?? '';

/** What a person can choose among. */
export function pulseDevices(state: PulseState): SoundDevices {
  const programs = new Map<string, SoundDevices['programs'][number]>();
  for (const stream of state.programs) {
    const program = programName(stream);
    if (!program || programs.has(program)) continue;
    const words = stream.properties['application.name'] ?? program;
    const output = state.sinks.find(({ index }) => index === stream.sink)?.description ?? '';
    programs.set(program, { program, words, output });
  }
  return {
    trouble: null,
    by: 'pulse',
    devices: state.sources.map((source) => deviceFacts(state, source)),
    programs: [...programs.values()],
  };
}

const tapOf = (source: PulseState['sources'][number], words: string, streamIndex: number | null): PulseTap => ({
  source: source.name,
  sourceIndex: source.index,
  streamIndex,
  rateHz: sampleSpecification(source.sample_specification).rateHz,
  channels: placesOf(source.channel_map),
  channelMap: source.channel_map,
  words,
});

/** How what this PC plays is tapped: the monitor of the output in use. */
export function heardTap(state: PulseState): PulseTap | string {
  const source = state.defaultSink === null ? undefined : monitorOf(state, state.defaultSink);
  return source ? tapOf(source, deviceFacts(state, source).words, null) : 'No output is in use on this PC.';
}

/** The microphone the system chooses; where that is an output's monitor, it has none. */
export function microphoneTap(state: PulseState): PulseTap | string {
  const chosen = state.sources.find(({ name }) => name === state.defaultSource);
  const source = chosen && !isMonitor(chosen) ? chosen : state.sources.find((one) => !isMonitor(one));
  return source ? tapOf(source, deviceFacts(state, source).words, null) : 'No microphone is connected to this PC.';
}

export function deviceTap(state: PulseState, device: string, words: string): PulseTap | string {
  const source = state.sources.find(({ name }) => name === device);
  return source
    ? tapOf(source, deviceFacts(state, source).words, null)
    : `${words || device} is not connected to this PC now.`;
}

/** What one program plays; of several streams the newest. */
export function programTap(state: PulseState, program: string): PulseTap | string {
  const stream = state.programs.findLast((one) => programName(one) === program);
  const sink = stream && state.sinks.find(({ index }) => index === stream.sink);
  const source = sink && monitorOf(state, sink.name);
  return stream && source ? tapOf(source, program, stream.index) : `${program} plays nothing now.`;
}
