import type { Stream } from 'node-av/lib';

/** Names that muxers give by themselves. */
const generic = /^(sound|audio|video)\s?handler/i;

/**
 * The name of a track. Matroska keeps it as title. MP4 keeps it twice: as the handler's name, which is UTF-8, and as a text
 * of QuickTime, whose letters readers take for Mac Roman; the first is right unless a muxer filled it in by itself.
 */
export function trackName(stream: Stream): string {
  const tags = stream.metadata?.getAll() ?? {};
  const handler = tags['handler_name'];
  return tags['title'] ?? (handler && !generic.test(handler) ? handler : undefined) ?? tags['name'] ?? '';
}
