/** A picture over a form is no higher, in pixels. */
export const HEADER_MOST = 240

/** The rules alone, where the variables stand on what is around. */
export const SHEET = `
.cv{box-sizing:border-box;max-width:var(--cv-column);padding:24px;background:var(--cv-backdrop),var(--cv-sheet);color:var(--cv-ink);border:1px solid var(--cv-rule);border-radius:var(--cv-round);font-family:var(--cv-font);font-size:16px;line-height:24px;text-align:start}
.cv *{box-sizing:border-box;font:inherit}
.cv [hidden]{display:none!important}
.cv .cv-title,.cv .cv-intro,.cv .cv-logo{text-align:var(--cv-align)}
.cv .cv-logo{margin:0 0 14px}
.cv .cv-logo img{max-width:100%;width:auto;height:var(--cv-logo);object-fit:contain}
.cv .cv-header{margin:-24px -24px 20px}
.cv .cv-header img{display:block;width:100%;height:auto;max-height:${HEADER_MOST}px;object-fit:cover;border-radius:var(--cv-round) var(--cv-round) 0 0}
.cv .cv-title{margin:0 0 10px;font-size:24px;line-height:32px;font-weight:650;text-wrap:balance;overflow-wrap:anywhere}
.cv .cv-intro{margin:0 0 12px;color:var(--cv-faded);white-space:pre-line;overflow-wrap:anywhere}
.cv .cv-question{margin:0 0 12px;padding:0;border:0;min-width:0}
.cv label,.cv legend{display:block;padding:0;margin:0 0 4px;font-weight:600;overflow-wrap:anywhere}
.cv .cv-optional{font-weight:400;color:var(--cv-faded)}
.cv input:not([type=radio],[type=checkbox]),.cv select,.cv textarea{display:block;width:100%;padding:10px var(--cv-inset);background:var(--cv-field);color:inherit;border:solid var(--cv-line);border-width:var(--cv-border);border-radius:var(--cv-round-field)}
.cv input:not([type=radio],[type=checkbox]),.cv select{height:46px}
.cv ::placeholder{color:var(--cv-faded);opacity:1}
.cv textarea{min-height:122px;resize:vertical}
.cv input[type=file]{height:auto;min-height:46px;padding-block:8px}
.cv input[type=file]::file-selector-button{margin-inline-end:12px;padding:4px 12px;border:1px solid var(--cv-line);border-radius:var(--cv-round-field);background:var(--cv-sheet);color:inherit;font:inherit;cursor:pointer}
.cv .cv-choice{display:flex;gap:10px;align-items:flex-start;padding:6px 0;margin:0;font-weight:400;cursor:pointer}
.cv .cv-choice input{flex:none;width:20px;height:20px;margin:2px 0;accent-color:var(--cv-accent)}
.cv .cv-help{margin:2px 0 0;font-size:14px;line-height:20px;color:var(--cv-faded)}
.cv .cv-flaw{margin:2px 0 0;min-height:0;font-size:14px;line-height:20px;color:var(--cv-wrong)}
.cv .cv-flaw:empty,.cv .cv-problem:empty{display:none}
.cv [aria-invalid=true] input,.cv input[aria-invalid=true],.cv select[aria-invalid=true],.cv textarea[aria-invalid=true]{border-color:var(--cv-wrong)}
.cv .cv-problem{margin:0 0 12px;padding:10px 12px;border-inline-start:3px solid var(--cv-wrong);background:color-mix(in srgb,var(--cv-wrong) 10%,var(--cv-sheet))}
.cv .cv-progress{margin:0 0 12px;font-size:14px;line-height:20px;color:var(--cv-faded)}
.cv .cv-acts{display:flex;gap:12px;align-items:center;justify-content:var(--cv-align)}
.cv .cv-button{width:var(--cv-button);min-height:46px;padding:10px 22px;border:0;border-radius:var(--cv-round-button);background:var(--cv-accent);color:var(--cv-on-accent);font-weight:600;cursor:pointer}
.cv .cv-button:hover{background:color-mix(in srgb,var(--cv-accent) 88%,var(--cv-ink))}
.cv .cv-button[disabled]{opacity:.65;cursor:progress}
.cv .cv-back{min-height:46px;padding:10px 4px;border:0;background:none;color:var(--cv-accent);text-decoration:underline;cursor:pointer}
.cv :focus-visible{outline:3px solid var(--cv-accent);outline-offset:2px}
.cv .cv-unseen{position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%)}
.cv-thanks{font-size:18px;line-height:28px;white-space:pre-line}
.cv-thanks p{margin:0}
.cv-thanks p+p{margin-top:14px}
.cv .cv-help a,.cv .cv-choice a{color:var(--cv-accent)}
.cv .cv-way{color:var(--cv-accent);font-weight:600}
.cv .cv-small{font-size:15px;line-height:24px}
@media (max-width:420px){.cv{padding:18px}}
`
