/** A uid for what is sent: the same as long as it is the same text, so that sending it again after a lost answer adds nothing. */

/** A random UUID, version 4; `crypto.randomUUID` is missing on plain HTTP. */
function uuid(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  bytes[6] = (bytes[6]! & 0x0f) | 0x40
  bytes[8] = (bytes[8]! & 0x3f) | 0x80
  const hex = [...bytes].map((one) => one.toString(16).padStart(2, '0')).join('')
  return hex.replace(/(.{8})(.{4})(.{4})(.{4})(.{12})/, '$1-$2-$3-$4-$5')
}

export function useSendId(): { of: (content: unknown) => string; done: () => void } {
  let known = ''
  let id = ''
  return {
    of: (content) => {
      const text = JSON.stringify(content)
      if (text !== known || !id) [known, id] = [text, uuid()]
      return id
    },
    /** What was sent has arrived: the same again is another. */
    done: () => {
      id = ''
    },
  }
}
