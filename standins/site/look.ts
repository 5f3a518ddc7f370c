/** How the firm's site looks: its own house, not ours. */
export const LOOK = `
:root{--leaf:#2e4a2f;--moss:#7c8f4e;--glass:#e4efe9;--cream:#faf8f1;--bark:#33291f;--sun:#d99a3c}
*{box-sizing:border-box}
body{margin:0;background:var(--cream);color:var(--bark);font:18px/29px Georgia,'Noto Serif','DejaVu Serif',serif}
a{color:var(--leaf)}
header{display:flex;flex-wrap:wrap;gap:8px 28px;align-items:baseline;padding:22px max(24px,calc(50vw - 540px));border-bottom:1px solid #d9d5c3}
header strong{font-size:24px;letter-spacing:-.01em;margin-right:auto}
header strong a{color:inherit;text-decoration:none}
header nav{display:flex;flex-wrap:wrap;gap:4px 22px}
header nav a{text-decoration:none;padding:4px 0;border-bottom:2px solid transparent}
header nav a:hover,header nav a[aria-current]{border-color:var(--sun)}
main{padding:0 max(24px,calc(50vw - 540px)) 80px}
h1{font-size:clamp(32px,5vw,52px);line-height:1.1;letter-spacing:-.02em;margin:48px 0 16px;text-wrap:balance;font-weight:500}
h2{font-size:26px;line-height:34px;font-weight:500;margin:48px 0 8px}
.lead{font-size:21px;line-height:33px;max-width:38em}
.art{display:block;width:100%;height:auto;margin:32px 0;border-radius:2px;background:var(--glass)}
.three{display:grid;grid-template-columns:repeat(auto-fit,minmax(240px,1fr));gap:32px;margin:32px 0}
.three h2{margin:0 0 4px;font-size:22px}
.split{display:grid;grid-template-columns:minmax(0,1fr) minmax(0,30rem);gap:56px;align-items:start;margin-top:32px}
table{display:block;overflow-x:auto;border-collapse:collapse;width:100%;margin:24px 0}
th,td{text-align:left;padding:12px 16px 12px 0;border-bottom:1px solid #d9d5c3;vertical-align:top}
td:last-child{white-space:nowrap;font-variant-numeric:tabular-nums}
article{max-width:38em}
.call{display:inline-block;background:var(--leaf);color:#fff;text-decoration:none;padding:12px 24px;border-radius:2px;margin-top:12px}
.call.quiet{background:none;color:var(--leaf);border:1px solid var(--leaf)}
form.own{display:grid;gap:14px;max-width:30rem}form.own label{display:grid;gap:4px}form.own input,form.own textarea{font:inherit;padding:8px;border:1px solid #8d8a78;border-radius:2px;background:#fff}form.own button{justify-self:start;font:inherit;background:var(--leaf);color:#fff;border:0;padding:10px 24px;border-radius:2px;cursor:pointer}
footer{padding:32px max(24px,calc(50vw - 540px));background:var(--leaf);color:#e9eddc;font-size:16px;line-height:26px}
.ask{position:fixed;left:16px;bottom:16px;right:16px;max-width:30rem;background:#fff;border:1px solid #cfcab6;padding:16px 20px;font-size:16px;line-height:24px}
.ask p{margin:0 0 12px}
.ask button{font:inherit;padding:8px 20px;margin-right:10px;border:1px solid var(--leaf);background:#fff;color:var(--leaf);border-radius:2px;cursor:pointer}
@media (max-width:760px){.split{grid-template-columns:1fr;gap:24px}body{font-size:17px;line-height:27px}}
`

/** A growing house, drawn: panes, ridge, beds. */
export function houseArt(bays: number, bed: string): string {
  const width = 1080
  const bay = width / bays
  const panes = Array.from({ length: bays }, (_, i) => {
    const x = i * bay
    return `<path d="M${x} 150 L${x + bay / 2} 70 L${x + bay} 150 V300 H${x}Z" fill="#f4faf6" stroke="#5d7768" stroke-width="2"/><path d="M${x + bay / 2} 70V300M${x} 210H${x + bay}M${x + bay / 4} 110V300M${x + bay * 0.75} 110V300" stroke="#a9bfb2" fill="none"/>`
  }).join('')
  const plants = Array.from({ length: bays * 6 }, (_, i) => {
    const x = (i + 0.5) * (width / (bays * 6))
    const h = 34 + ((i * 37) % 46)
    return `<path d="M${x} 296 C${x - 14} ${296 - h * 0.6} ${x - 6} ${296 - h} ${x} ${296 - h} C${x + 6} ${296 - h} ${x + 14} ${296 - h * 0.6} ${x} 296Z" fill="${bed}" opacity="${0.55 + (i % 4) * 0.12}"/>`
  }).join('')
  return `<svg class="art" viewBox="0 0 1080 340" role="img" aria-label="A row of glass growing houses with plants in them"><circle cx="930" cy="62" r="34" fill="#d99a3c" opacity=".75"/>${panes}${plants}<path d="M0 300H1080V340H0Z" fill="#7c8f4e"/></svg>`
}
