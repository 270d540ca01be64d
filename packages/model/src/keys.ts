import { z } from 'zod';

/** What a key can do while another program has the focus. */
export const keyActions = ['roll', 'pause', 'mark', 'keep', 'talk', 'window'] as const;
export type KeyAction = (typeof keyActions)[number];

/** Names of keys by their place on the keyboard, as a keyboard event's `code` has them (W3C UI Events KeyboardEvent code Values). */
export const keyCodeSchema = z.string().regex(/^[A-Z][A-Za-z0-9]{1,24}$/);

/** A key with the modifiers that have to be down, and no others. */
export const bindingSchema = z.strictObject({
  code: keyCodeSchema,
  ctrl: z.boolean().default(false),
  alt: z.boolean().default(false),
  shift: z.boolean().default(false),
  meta: z.boolean().default(false),
});
export type Binding = z.infer<typeof bindingSchema>;

/** A key for each action; null: none. */
const keySchema = bindingSchema.nullable();
export const bindingsSchema = z.strictObject({
  roll: keySchema,
  // Added later than the others.
  pause: keySchema.default(null),
  mark: keySchema,
  keep: keySchema,
  talk: keySchema,
  window: keySchema,
});
export type Bindings = z.infer<typeof bindingsSchema>;

/** Keys heard outside the page: off until somebody says yes. */
export const keySettingsSchema = z.strictObject({
  on: z.boolean(),
  /** The setup that is rolled by key. */
  setupId: z.string().max(40).nullable(),
  common: bindingsSchema,
  /** Keys of single setups in place of the common ones. */
  bySetup: z.record(z.string().max(40), z.partialRecord(z.enum(keyActions), bindingSchema.nullable())).default({}),
});
export type KeySettings = z.infer<typeof keySettingsSchema>;

export const keyStateSchema = z.object({
  settings: keySettingsSchema,
  /** Whether keys are heard now. */
  listening: z.boolean(),
  /** Why they are not, where they should be. */
  why: z.string().nullable(),
});
export type KeyState = z.infer<typeof keyStateSchema>;
