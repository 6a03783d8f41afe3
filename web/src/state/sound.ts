/** A short tone that a reading was taken; silent where the browser allows no sound. */
export function confirmBySound(): void {
  try {
    const context = new AudioContext()
    const tone = context.createOscillator()
    const volume = context.createGain()
    tone.frequency.value = 880
    volume.gain.setValueAtTime(0.15, context.currentTime)
    volume.gain.exponentialRampToValueAtTime(0.001, context.currentTime + 0.18)
    tone.connect(volume).connect(context.destination)
    tone.start()
    tone.stop(context.currentTime + 0.2)
    tone.onended = () => void context.close()
  } catch {
    // The mark in the journal says it too.
  }
}
