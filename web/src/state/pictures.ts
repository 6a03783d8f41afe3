/** Longest side of a photograph that is kept, in pixels: a plate can be read, and a telephone's picture is smaller. */
const LONGEST = 1600

/** A photograph scaled down; whatever else it is stays as it is. */
export async function scaledDown(file: File): Promise<{ name: string; bytes: Blob }> {
  if (!file.type.startsWith('image/')) return { name: file.name, bytes: file }
  const picture = await createImageBitmap(file).catch(() => null)
  if (!picture) return { name: file.name, bytes: file }
  const share = Math.min(1, LONGEST / Math.max(picture.width, picture.height))
  if (share === 1 && file.size < 600_000) return { name: file.name, bytes: file }
  const paper = document.createElement('canvas')
  paper.width = Math.round(picture.width * share)
  paper.height = Math.round(picture.height * share)
  paper.getContext('2d')?.drawImage(picture, 0, 0, paper.width, paper.height)
  const bytes = await new Promise<Blob | null>((made) => paper.toBlob(made, 'image/jpeg', 0.85))
  return bytes ? { name: file.name.replace(/\.\w+$/, '.jpg'), bytes } : { name: file.name, bytes: file }
}
