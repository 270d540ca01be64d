/** Whether the media library's name of a layout of samples says red, green and blue, and not luma and colour. */
export const isRgbFormat = (pixelFormat: string): boolean => /^(gbr|[ax0]?(rgb|bgr)|pal8)/.test(pixelFormat);
