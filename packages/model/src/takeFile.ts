import { z } from 'zod';

/**
 * What makes a file this file, whatever its name: its number on its drive and the moment it was made.
 * Numbers are texts, since they do not fit into 53 bits everywhere.
 */
export const fileIdentitySchema = z.object({
  device: z.string(),
  inode: z.string(),
  /** Nanoseconds since 1970; null where the file system keeps no time of birth. */
  bornNs: z.string().nullable(),
});
export type FileIdentity = z.infer<typeof fileIdentitySchema>;

/** take: the footage; open: an unclosed file that was kept beside its rescue; copy: one file made of it; camera: its camera's own; discard: footage that a proven copy took the place of. */
export const takeFileRoleSchema = z.enum(['take', 'open', 'copy', 'camera', 'discard']);
export type TakeFileRole = z.infer<typeof takeFileRoleSchema>;

/** A file that a take has made and owns; nothing else is ever changed or deleted in its name. */
export const takeFileSchema = z.object({
  role: takeFileRoleSchema,
  path: z.string().min(1),
  /** Null for takes stored before identities were kept; such a file counts as the take's while its size is `bytes`. */
  identity: fileIdentitySchema.nullable(),
  bytes: z.number().nullable(),
  /** Time of the take at which it begins: parts follow one another. */
  startUs: z.number().min(0).optional(),
  /** Which stripe of the take it holds, where the take is spread over several files. */
  stripe: z.int().min(0).optional(),
  /** Where it is being moved to: whoever dies meanwhile, it lies in one of the two places. */
  movingTo: z.object({ path: z.string().min(1), identity: fileIdentitySchema }).optional(),
  /** Its drive, where that is not the take's own. */
  driveId: z.string().optional(),
});
export type TakeFile = z.infer<typeof takeFileSchema>;

/** What became of each file when a take was deleted. */
export const removalSchema = z.object({
  removed: z.array(z.string()),
  /** Files left where they are, each with the reason. */
  left: z.array(z.object({ path: z.string(), why: z.string() })),
});
export type Removal = z.infer<typeof removalSchema>;
