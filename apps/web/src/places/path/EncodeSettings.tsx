import type { ComponentProps } from 'react';
import {
  hasQualityNumber,
  encoderFacts,
  encoderWords,
  effortWords,
  filedSize,
  formatCount,
  framesPerSecond,
  placeWords,
  quantiserWord,
  rateControlWords,
  withEncoder,
  type EncoderPlace,
} from '@mellow/core';
import { encoders, type EncoderName, type Recipe } from '@mellow/model';
import { NumberRail } from '../../parts/NumberRail';
import { Rail } from '../../parts/Rail';
import { useAppSelector } from '../../store/store';
import { usePath } from './pathContext';
import { FurtherEncodeSettings } from './FurtherEncodeSettings';
import { QualityRuler } from './QualityRuler';
import { SettingRow } from './SettingRow';
import { useConsidering } from './useConsidering';

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
      {all && <FurtherEncodeSettings set={set} />}
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

export interface SetProps {
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
  const { widthPx, heightPx } = filedSize(recipe);
  const perPixel = (encode.bitrateKbps * 1000) / (widthPx * heightPx * framesPerSecond(recipe.rate));
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
