// Reads the codes on labels, weights and scales: by the browser's own reader where it has one, else by a library that
// comes with the program.

interface Reader {
  detect(from: CanvasImageSource): Promise<{ rawValue: string }[]>
}
type MakeReader = new (options: { formats: string[] }) => Reader
type OwnReader = MakeReader & { getSupportedFormats(): Promise<string[]> }

const FORMATS = ['qr_code', 'data_matrix', 'code_128', 'code_39', 'ean_13']
/** A code on a photograph is found at this size, and no faster on a larger one. */
const LONGEST_SIDE = 1600

async function made(): Promise<Reader> {
  const own = (globalThis as { BarcodeDetector?: OwnReader }).BarcodeDetector
  const reads = (await own?.getSupportedFormats()) ?? []
  if (own && reads.includes('qr_code')) return new own({ formats: FORMATS.filter((f) => reads.includes(f)) })
  const [{ BarcodeDetector, prepareZXingModule }, { default: wasm }] = await Promise.all([
    import('barcode-detector/ponyfill'),
    import('zxing-wasm/reader/zxing_reader.wasm?url'),
  ])
  void prepareZXingModule({ overrides: { locateFile: () => wasm } })
  return new (BarcodeDetector as unknown as MakeReader)({ formats: FORMATS })
}

let reader: Promise<Reader> | null = null

/** The text of a code in a picture; null where there is none. */
export async function codeIn(picture: CanvasImageSource): Promise<string | null> {
  reader ??= made().catch((error: unknown) => {
    reader = null
    throw error
  })
  const found = await (await reader).detect(picture)
  return found.map((code) => code.rawValue.trim()).find(Boolean) ?? null
}

/** The text of a code on a photograph; null where there is none, or it is no picture. */
export async function codeOnPhoto(file: Blob): Promise<string | null> {
  const address = URL.createObjectURL(file)
  try {
    const image = new Image()
    image.src = address
    await image.decode()
    const scale = LONGEST_SIDE / Math.max(image.naturalWidth, image.naturalHeight, 1)
    const canvas = document.createElement('canvas')
    canvas.width = Math.round(image.naturalWidth * scale)
    canvas.height = Math.round(image.naturalHeight * scale)
    const pen = canvas.getContext('2d')
    if (!pen) return null
    pen.fillStyle = '#fff'
    pen.fillRect(0, 0, canvas.width, canvas.height)
    pen.drawImage(image, 0, 0, canvas.width, canvas.height)
    return await codeIn(canvas)
  } catch (error) {
    if (error instanceof DOMException) return null
    throw error
  } finally {
    URL.revokeObjectURL(address)
  }
}
