import type { ComponentProps } from 'react';
import {
  hasQualityNumber,
  encoderFacts,
  encoderWords,
  effortWords,
  formatCount,
  framesPerSecond,
  pixelWords,
  placeWords,
  profileWords,
  quantiserWord,
  rateControlWords,
  withEncoder,
  type EncoderPlace,
} from '@mellow/core';
import { encoders, type EncoderName, type PixelKind, type Profile, type Recipe } from '@mellow/model';
import { NumberField } from '../../parts/NumberField';
import { NumberRail } from '../../parts/NumberRail';
import { Rail } from '../../parts/Rail';
import { useAppSelector } from '../../store/store';
import { usePath } from './pathContext';
import { QualityRuler } from './QualityRuler';
import { SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

const onOff = [
  { value: 'on', label: 'on' },
  { value: 'off', label: 'off' },
] as const;
const places: readonly EncoderPlace[] = ['card', 'software', 'processor-graphics'];
const bitrateMarks = [500, 2000, 6000, 16_000, 50_000, 150_000] as const;

/** Encode, drawn from the table of what each encoder can do; few settings first. */
export function EncodeSettings() {
  const all = useAppSelector((state) => state.ui.allSettings);
  const { recipe, setup } = usePath();
  const facts = encoderFacts[recipe.encode.encoder];
  const start = setup.start.encode;
  const set = (part: Partial<Recipe['encode']>): Recipe => ({ ...recipe, encode: { ...recipe.encode, ...part } });
  const effort = useConsidering('effort', (value: Recipe['encode']['effort']) => set({ effort: value }));
  const rateControl = useConsidering('rateControl', (value: Recipe['encode']['rateControl']) =>
    set({ rateControl: value }),
  );
  const { encode } = recipe;
  return (
    <>
      <EncoderRails />
      <SettingRow setting="rateControl" label="Rate">
        <Rail
          label="Rate control"
          hue="encode"
          value={encode.rateControl}
          start={facts.rateControls.includes(start.rateControl) ? start.rateControl : undefined}
          choices={facts.rateControls.map((r) => ({ value: r, label: rateControlWords[r] }))}
          {...rateControl}
        />
      </SettingRow>
      {facts.quality && hasQualityNumber(encode) && <QualityRuler />}
      {(encode.rateControl === 'constant-bitrate' || encode.rateControl === 'variable-bitrate') && (
        <BitrateRails set={set} />
      )}
      {encode.rateControl === 'picture-by-picture' && <QuantiserRail set={set} />}
      <SettingRow setting="effort" label="Effort">
        {facts.efforts.length ? (
          <Rail
            label="Effort"
            hue="encode"
            value={encode.effort}
            start={start.effort}
            choices={facts.efforts.map((e) => ({ value: e, label: effortWords[e] }))}
            {...effort}
          />
        ) : (
          <span className="soft">{effort.quiet}</span>
        )}
      </SettingRow>
      {all && <FurtherSettings set={set} />}
    </>
  );
}

/** The encoder as two rails: where the work is done, and which standard; the encoders that do not work say why. */
function EncoderRails() {
  const { recipe, setup, machine } = usePath();
  const { encoder } = recipe.encode;
  const facts = encoderFacts[encoder];
  const state = (name: EncoderName) => machine?.encoders.find((e) => e.encoder === name) ?? null;
  const unreachable = (name: EncoderName): string | undefined => {
    if (encoderFacts[name].place === 'software')
      return state(name)?.works === false ? (state(name)?.reason ?? 'does not work here') : undefined;
    const known = state(name);
    return known?.works ? undefined : (known?.reason ?? 'not proven yet: see Machine');
  };
  const of = (place: EncoderPlace) => encoders.filter((name) => encoderFacts[name].place === place);
  const best = (place: EncoderPlace): EncoderName =>
    of(place).find((name) => encoderFacts[name].standard === facts.standard && !unreachable(name)) ??
    of(place).find((name) => !unreachable(name)) ??
    of(place)[0] ??
    encoder;
  const place = useConsidering('encoder', (value: EncoderPlace) => withEncoder(recipe, best(value)));
  const standard = useConsidering('encoder', (value: EncoderName) => withEncoder(recipe, value));
  const startFacts = encoderFacts[setup.start.encode.encoder];
  const cores = machine ? `, ${machine.cores} cores` : '';
  return (
    <>
      <SettingRow setting="encoder" label="Encoder">
        <Rail
          label="Encoder"
          hue="encode"
          value={facts.place}
          start={startFacts.place}
          choices={places.map((p) => ({
            value: p,
            label: p === 'software' ? `software${cores}` : placeWords[p].replace('on ', ''),
            ...(of(p).every((name) => unreachable(name) !== undefined)
              ? {
                  unreachable: unreachable(of(p)[0] ?? encoder) ?? 'not here',
                  hint: machine?.encoders.length ? 'not in this PC' : 'not proven yet',
                }
              : {}),
          }))}
          {...place}
        />
      </SettingRow>
      <div className="setting">
        <span className="setting-label" title={facts.meaning}>
          Standard
        </span>
        <div className="setting-line">
          <Rail
            label="Standard"
            hue="encode"
            value={encoder}
            start={setup.start.encode.encoder}
            choices={of(facts.place).map((name) => {
              const no = unreachable(name);
              return {
                value: name,
                label: encoderFacts[name].standard,
                ...(no === undefined ? {} : { unreachable: `${encoderWords(name)}: ${no}` }),
              };
            })}
            onChange={standard.onChange}
            onConsider={standard.onConsider}
          />
        </div>
      </div>
    </>
  );
}

interface SetProps {
  set: (part: Partial<Recipe['encode']>) => Recipe;
}

type RateRailProps = Pick<
  ComponentProps<typeof NumberRail>,
  'label' | 'value' | 'max' | 'start' | 'onChange' | 'onConsider'
>;

function RateRail(props: RateRailProps) {
  const shared = { logarithmic: true, hue: 'encode', min: 500, step: 100, unit: 'kb/s' } as const;
  return <NumberRail {...shared} marks={bitrateMarks} format={formatCount} {...props} />;
}

function BitrateRails({ set }: SetProps) {
  const { recipe, setup, forecast } = usePath();
  const { encode } = recipe;
  const start = setup.start.encode;
  const bitrate = useConsidering('bitrate', (bitrateKbps: number) => set({ bitrateKbps }));
  const ceiling = useConsidering('ceiling', (ceilingKbps: number) => set({ ceilingKbps }));
  const perPixel =
    (encode.bitrateKbps * 1000) / (recipe.size.widthPx * recipe.size.heightPx * framesPerSecond(recipe.rate));
  return (
    <>
      <SettingRow
        setting="bitrate"
        label="Bitrate"
        note={`${perPixel.toFixed(3)} bits a pixel and frame: ${forecast.picture.word}${forecast.picture.quality === null ? '' : `, about quality ${forecast.picture.quality.toFixed(0)} here`}.`}
      >
        <RateRail label="Bitrate" value={encode.bitrateKbps} max={200_000} start={start.bitrateKbps} {...bitrate} />
      </SettingRow>
      {encode.rateControl === 'variable-bitrate' && (
        <SettingRow setting="ceiling" label="Ceiling">
          <RateRail label="Ceiling" value={encode.ceilingKbps} max={300_000} start={start.ceilingKbps} {...ceiling} />
        </SettingRow>
      )}
    </>
  );
}

/** Steps that are named by what is seen; the number itself stands under all settings. */
const quantiserSteps = ['2', '4', '8', '16'] as const;

function QuantiserRail({ set }: SetProps) {
  const { recipe, setup } = usePath();
  const quantiser = useConsidering('quantiser', (value: number) => set({ quantiser: value }));
  const { value, start, choices } = quantiserChoices(recipe, setup.start);
  return (
    <SettingRow setting="quantiser" label="Each picture">
      <Rail
        label="Each picture"
        hue="encode"
        value={value}
        start={start}
        choices={choices}
        onChange={(step) => quantiser.onChange(Number(step))}
        onConsider={(step) => quantiser.onConsider(step === null ? null : Number(step))}
      />
    </SettingRow>
  );
}

function quantiserChoices(recipe: Recipe, startRecipe: Recipe) {
  const stepOf = (quantiser: number) => quantiserSteps.find((step) => Number(step) === quantiser);
  return {
    value: stepOf(recipe.encode.quantiser) ?? null,
    start: stepOf(startRecipe.encode.quantiser),
    choices: quantiserSteps.map((step) => ({ value: step, label: quantiserWord(Number(step)) })),
  };
}

const bChoices = ['0', '1', '2', '3', '4'] as const;

function FurtherSettings({ set }: SetProps) {
  const { recipe, setup, change } = usePath();
  const { encode } = recipe;
  const start = setup.start.encode;
  const facts = encoderFacts[encode.encoder];
  const fps = framesPerSecond(recipe.rate);
  const key = useConsidering('keyDistance', (keyDistanceFrames: number) => set({ keyDistanceFrames }));
  const groups = useConsidering('groups', (value: 'closed' | 'open') => set({ closedGroups: value === 'closed' }));
  const bFrames = useConsidering('bFrames', (value: string) => set({ bFrames: Number(value) }));
  const lowDelay = useConsidering('lowDelay', (value: 'on' | 'off') => set({ lowDelay: value === 'on' }));
  const pixels = useConsidering('pixels', (value: PixelKind) => set({ pixels: value }));
  const profile = useConsidering('profile', (value: Profile) => set({ profile: value }));
  const threads = useConsidering('threads', (value: string) => set({ threads: Number(value) }));
  const range = useConsidering('range', (value: 'limited' | 'full') => set({ range: value }));
  return (
    <>
      <SettingRow
        setting="keyDistance"
        label="Key pictures"
        note={key.quiet ?? `One every ${(encode.keyDistanceFrames / fps).toFixed(2)} s.`}
      >
        <Rail
          label="Key pictures"
          hue="encode"
          value={keySteps.find((s) => Math.round(Number(s) * fps) === encode.keyDistanceFrames) ?? null}
          start={keySteps.find(
            (s) => Math.round(Number(s) * framesPerSecond(setup.start.rate)) === start.keyDistanceFrames,
          )}
          choices={keySteps.map((s) => ({ value: s, label: `${s} s` }))}
          onChange={(s) => key.onChange(Math.max(1, Math.round(Number(s) * fps)))}
          onConsider={(s) => key.onConsider(s === null ? null : Math.max(1, Math.round(Number(s) * fps)))}
        />
        <NumberField
          label="Key pictures every"
          value={encode.keyDistanceFrames}
          min={1}
          max={2000}
          unit="frames"
          onChange={key.onChange}
        />
      </SettingRow>
      <SettingRow setting="groups" label="Groups">
        <Rail
          label="Groups"
          hue="encode"
          value={encode.closedGroups ? 'closed' : 'open'}
          start={start.closedGroups ? 'closed' : 'open'}
          choices={[
            { value: 'closed', label: 'closed' },
            { value: 'open', label: 'open' },
          ]}
          {...groups}
        />
      </SettingRow>
      <SettingRow setting="bFrames" label="B-frames">
        <Rail
          label="B-frames"
          hue="encode"
          value={bChoices.find((b) => b === String(encode.bFrames)) ?? null}
          start={bChoices.find((b) => b === String(start.bFrames))}
          choices={bChoices
            .filter((b) => Number(b) <= Math.max(facts.mostBFrames, encode.bFrames))
            .map((b) => ({ value: b, label: b }))}
          {...bFrames}
        />
      </SettingRow>
      <SettingRow setting="lowDelay" label="Low delay">
        <Rail
          label="Low delay"
          hue="encode"
          value={encode.lowDelay ? 'on' : 'off'}
          start={start.lowDelay ? 'on' : 'off'}
          choices={onOff}
          {...lowDelay}
        />
      </SettingRow>
      <SettingRow setting="pixels" label="Colours">
        <Rail
          label="Colours"
          hue="encode"
          value={encode.pixels}
          start={start.pixels}
          choices={(['4:2:0', '4:4:4', 'rgb'] as const).map((p) => ({
            value: p,
            label: pixelWords[p],
            ...(facts.pixels.includes(p)
              ? {}
              : { unreachable: `${encoderWords(encode.encoder)} takes ${facts.pixels.join(' and ')}` }),
          }))}
          {...pixels}
        />
      </SettingRow>
      <SettingRow setting="range" label="Range">
        <Rail
          label="Colour range"
          hue="encode"
          value={encode.range}
          start={start.range}
          choices={[
            { value: 'limited', label: 'limited', hint: '16 to 235' },
            { value: 'full', label: 'full', hint: '0 to 255' },
          ]}
          {...range}
        />
      </SettingRow>
      <SettingRow setting="profile" label="Profile">
        <Rail
          label="Profile"
          hue="encode"
          value={encode.profile}
          start={start.profile}
          choices={(['high', 'main', 'baseline'] as const).map((p) => ({ value: p, label: profileWords[p] }))}
          {...profile}
        />
      </SettingRow>
      <SettingRow setting="threads" label="Threads">
        <Rail
          label="Threads"
          hue="encode"
          value={threadSteps.find((t) => t === String(encode.threads)) ?? null}
          start={threadSteps.find((t) => t === String(start.threads))}
          choices={threadSteps.map((t) => ({ value: t, label: t === '0' ? 'automatic' : t }))}
          {...threads}
        />
        <NumberField
          label="Threads, typed"
          value={encode.threads}
          min={0}
          max={64}
          onChange={(n) => change(set({ threads: n }))}
        />
      </SettingRow>
    </>
  );
}

const keySteps = ['0.5', '1', '2', '4', '10'] as const;
const threadSteps = ['0', '1', '2', '4', '8'] as const;
