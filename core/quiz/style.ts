/** What only quizzes show: choices in a row or as pictures, and results. Stands behind the rules of forms. */
export const QUIZ_SHEET = `
.cv .cv-scale{display:flex;flex-wrap:wrap;gap:4px 14px}
.cv .cv-pictures{display:grid;grid-template-columns:repeat(auto-fill,minmax(150px,1fr));gap:10px}
.cv .cv-pictures .cv-choice{flex-wrap:wrap;padding:8px;border:1px solid var(--cv-rule);border-radius:var(--cv-round-field)}
.cv .cv-pictures img{order:-1;width:100%;height:auto;aspect-ratio:4/3;object-fit:cover;border-radius:var(--cv-round-field)}
.cv .cv-pictures span{flex:1}
.cv .cv-bars{display:grid;grid-template-columns:auto 1fr auto;gap:4px 12px;align-items:center;margin:18px 0 0;padding:0;list-style:none;font-size:15px;line-height:22px}
.cv .cv-bars li{display:contents}
.cv .cv-bars svg{display:block;width:100%;height:10px;color:var(--cv-accent)}
.cv .cv-ways{margin-top:18px}
.cv-result img{max-width:100%;height:auto;border-radius:var(--cv-round)}
.cv .cv-review{margin:18px 0 0;padding:0;list-style:none;font-size:15px;line-height:22px}
.cv .cv-review li{padding:8px 0;border-top:1px solid var(--cv-rule)}
.cv .cv-review p{margin:0}
.cv a.cv-button{display:inline-block;text-decoration:none;text-align:center}
.cv.cv-still{display:flex;flex-direction:column}
.cv-still .cv-acts{margin-top:auto}
.cv-still .cv-back{order:1}
.cv .cv-said{margin:8px 0 0;padding:8px 12px;border-inline-start:3px solid var(--cv-accent);background:color-mix(in srgb,var(--cv-accent) 8%,var(--cv-sheet));font-size:15px;line-height:22px}
.cv-said p{margin:0}
.cv-thanks.cv-said{margin:0 0 12px;padding:14px 18px}
.cv-result+.cv{margin-top:12px}
.cv-result ul:not(.cv-bars,.cv-review),.cv-result ol{margin:14px 0 0;padding-inline-start:22px}
.cv-result h2:not(.cv-title),.cv-result h3{margin:18px 0 0;font-weight:650}
.cv-result strong{font-weight:650}
.cv-result em{font-style:italic}
`
