// Which port of this device an indicator is read by.
const ports = new Map<string, string>()

export const portOf = (scale: string): string | null => ports.get(scale) ?? null
export const setPort = (scale: string, port: string | null): void => {
  if (port) ports.set(scale, port)
  else ports.delete(scale)
}
