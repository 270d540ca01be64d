import type { Brief, MachineSheet, PathPlaceName, PracticeGame, Recipe, DriveFacts } from '@mellow/model';
import { equalQuality, type EncoderFacts } from '../codec';
import type { Forecast, ForecastContext } from '../forecast';

/** How much a rule weighs: no take can be made; the take is in danger; the game or the size pays; good to know. */
export const adviceWeights = ['stops', 'risk', 'cost', 'note'] as const;
export type AdviceWeight = (typeof adviceWeights)[number];

/** What a rule looks at: a recipe with its forecast and everything around it. */
export interface Look {
  recipe: Recipe;
  forecast: Forecast;
  context: ForecastContext;
  game: PracticeGame;
  brief: Brief;
  machine: MachineSheet | null;
  drive: DriveFacts | null;
  facts: EncoderFacts;
  fps: number;
  /** The forecast of another recipe in the same context. */
  forecastOf(recipe: Recipe): Forecast;
}

/** A change that settles a rule, or what to do where the program cannot act. */
export interface RemedyOffer {
  label: string;
  change?: Recipe;
  instruction?: string;
}

export interface RuleResult {
  title: string;
  /** The figures, and what they mean. */
  text: string;
  remedies: RemedyOffer[];
}

export interface Rule {
  id: string;
  station: PathPlaceName;
  weight: AdviceWeight | ((look: Look) => AdviceWeight);
  check(look: Look): RuleResult | null;
}

/** The number of AVC in software that looks the same, and back on the encoder's own scale. */
export const onAvcScale = (look: Look, quality: number): number =>
  equalQuality(quality, look.recipe.encode.encoder, 'avc-software');
export const onOwnScale = (look: Look, avcQuality: number): number =>
  Math.round(equalQuality(avcQuality, 'avc-software', look.recipe.encode.encoder));
