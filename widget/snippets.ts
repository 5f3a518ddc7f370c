/**
 * Looks after the frames of foreign code on a landing page of ours: gives each the height that it says, and those that
 * wait for agreement their address once there is one. Fetched only by pages that have some.
 */
const TALLEST = 3000
const LOOK_MS = 500
const held = [...document.querySelectorAll<HTMLIFrameElement>('.lp-snippet iframe')]

addEventListener('message', ({ source, data }: MessageEvent<{ cavlin?: string; height?: unknown } | null>) => {
  const frame = held.find(f => f.contentWindow === source)
  const height = data?.cavlin === 'height' ? data.height : undefined
  if (frame && typeof height === 'number' && height >= 0) frame.height = String(Math.min(TALLEST, Math.ceil(height)))
})

const waiting = held.filter(f => f.dataset.src)
if (waiting.length)
  setInterval(() => {
    const agreed = Boolean(window.cavlin?.('agreed'))
    for (const frame of waiting) {
      if (agreed && !frame.hasAttribute('src')) frame.src = frame.dataset.src!
      // Who takes it back is not counted from now on.
      else if (!agreed && frame.hasAttribute('src')) {
        frame.removeAttribute('src')
        frame.contentWindow?.location.replace('about:blank')
      }
    }
  }, LOOK_MS)

export {}
