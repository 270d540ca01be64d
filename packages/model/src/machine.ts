import { z } from 'zod';
import { effortSchema, encoderSchema } from './recipe';

export const machineOrigins = ['measured', 'simulated'] as const;

/** The PC a take was made on. */
export const machineSchema = z.object({
  name: z.string().min(1).max(80),
  cores: z.int().min(1),
  processor: z.string(),
  memoryBytes: z.number().min(0),
  system: z.string(),
  /** A simulated machine is a stand-in: its times come from the model, never from a measurement. */
  origin: z.enum(machineOrigins).default('measured'),
});
export type Machine = z.infer<typeof machineSchema>;

export const figureOrigins = ['measured', 'fitted', 'typical', 'assumed'] as const;
export type FigureOrigin = (typeof figureOrigins)[number];

/** A number with its range (10 to 90 %) and where it comes from. */
export const figureSchema = z.object({
  value: z.number(),
  low: z.number(),
  high: z.number(),
  origin: z.enum(figureOrigins),
  from: z.string(),
});
export type Figure = z.infer<typeof figureSchema>;

/** An encoder on a machine, proven by a short test encode or known not to be there. */
export const encoderStateSchema = z.object({
  encoder: encoderSchema,
  works: z.boolean(),
  /** Why it does not work; null when it does. */
  reason: z.string().nullable(),
  /**
   * Work a frame at the lightest effort, microseconds per megapixel: of one core for software, of the block for hardware.
   * Null: not measured, the typical value of the encoder table holds.
   */
  workUsPerMegapixel: figureSchema.nullable(),
  /** The same by effort, where each was tried. */
  byEffort: z.partialRecord(effortSchema, z.number()),
});
export type EncoderState = z.infer<typeof encoderStateSchema>;

export const displaySchema = z.object({
  name: z.string(),
  widthPx: z.int(),
  heightPx: z.int(),
  refreshHz: z.number().nullable(),
  /** It is set to show a high dynamic range (ITU-R BT.2100). */
  hdr: z.boolean().default(false),
});
export type Display = z.infer<typeof displaySchema>;

/** A drive of a simulated machine. */
export const standInDriveSchema = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(['hard disk', 'solid state']),
  writeBytesPerSecond: z.number(),
  freeBytes: z.number(),
  totalBytes: z.number(),
});
export type StandInDrive = z.infer<typeof standInDriveSchema>;

/** What is known of a machine as far as recording goes. */
export const machineSheetSchema = machineSchema.extend({
  id: z.string().min(1).max(40),
  demo: z.boolean(),
  /** Speed of one core against the PC that the typical values stem from. */
  coreSpeed: figureSchema,
  graphics: z.object({ name: z.string(), speed: figureSchema }).nullable(),
  displays: z.array(displaySchema),
  encoders: z.array(encoderStateSchema),
  drives: z.array(standInDriveSchema),
  /** When the encoders were last tried; null: never. */
  provenAt: z.string().nullable(),
});
export type MachineSheet = z.infer<typeof machineSheetSchema>;

/** The machine as a take keeps it. */
export const machineOf = (sheet: MachineSheet): Machine => ({
  name: sheet.name,
  cores: sheet.cores,
  processor: sheet.processor,
  memoryBytes: sheet.memoryBytes,
  system: sheet.system,
  origin: sheet.origin,
});
