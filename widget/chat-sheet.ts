/** How a chat stands on a page: a tab at its edge, a plain sheet with a hairline. Names and variables are those of `core/points/style.ts`. */
export const CHAT_SHEET = `
.cv-tab-at,.cv-greeting,.cv-chat{position:fixed;z-index:2147482998;box-sizing:border-box;color:var(--cv-ink);font-family:var(--cv-font);font-size:16px;line-height:24px}
.cv-tab-at.corner{bottom:0}.cv-tab-at.corner.end{inset-inline-end:24px}.cv-tab-at.corner.start{inset-inline-start:24px}
.cv-tab-at.edge{top:50%;transform:translateY(-50%)}.cv-tab-at.edge.end{inset-inline-end:0}.cv-tab-at.edge.start{inset-inline-start:0}
.cv-tab{display:flex;gap:8px;align-items:center;min-height:44px;min-width:44px;padding:8px 18px;border:1px solid var(--cv-sheet);background:var(--cv-accent);color:var(--cv-on-accent);font:600 16px/24px var(--cv-font);cursor:pointer}
.corner>.cv-tab{border-bottom:0;border-radius:var(--cv-round) var(--cv-round) 0 0}
.edge>.cv-tab{writing-mode:vertical-rl;padding:18px 8px}
.cv-tab-at[data-open]{visibility:hidden}
.cv-tab:hover{background:color-mix(in srgb,var(--cv-accent) 88%,var(--cv-ink))}
.cv-tab:focus-visible{outline:3px solid var(--cv-ink);outline-offset:-5px}
.cv-count{min-width:24px;padding:0 6px;background:var(--cv-sheet);color:var(--cv-ink);font-size:14px;text-align:center;writing-mode:horizontal-tb}
.cv-count[hidden]{display:none}
.cv-greeting{width:min(19rem,calc(100vw - 32px));bottom:58px}.cv-greeting.end{inset-inline-end:24px}.cv-greeting.start{inset-inline-start:24px}
.cv-greeting.edge{bottom:50%;transform:translateY(50%)}.cv-greeting.edge.end{inset-inline-end:60px}.cv-greeting.edge.start{inset-inline-start:60px}
.cv-greeting .cv{position:relative;padding:14px 40px 14px 16px;box-shadow:0 6px 20px rgb(0 0 0/.14)}
.cv-greeting .cv-greets{padding:0;border:0;background:none;color:inherit;text-align:start;cursor:pointer;white-space:pre-line;overflow-wrap:anywhere}
.cv-chat .cv-shut,.cv-greeting .cv-shut{position:absolute;top:4px;inset-inline-end:4px;width:36px;height:36px;padding:0;border:0;background:none;color:var(--cv-ink);font:400 22px/1 system-ui,sans-serif;cursor:pointer}
.cv-chat{width:min(24rem,100vw);height:min(38rem,100dvh);bottom:0;z-index:2147483001}
.cv-chat.end{inset-inline-end:16px}.cv-chat.start{inset-inline-start:16px}
.cv-chat .cv{position:relative;display:flex;flex-direction:column;height:100%;max-width:none;padding:0;border-radius:var(--cv-round) var(--cv-round) 0 0;box-shadow:0 0 30px rgb(0 0 0/.16)}
.cv-chat.cv-inline{position:static;margin-inline:auto;width:100%;max-width:var(--cv-column);height:34rem}
.cv-inline .cv{border-radius:var(--cv-round);box-shadow:none}
.cv-chat .cv-head{padding:10px 44px 8px 16px;border-bottom:1px solid var(--cv-rule)}
.cv-chat h2{margin:0;font-size:17px;line-height:24px;font-weight:650;overflow-wrap:anywhere}
.cv-chat .cv-with{margin:0;font-size:14px;line-height:20px;color:var(--cv-faded)}
.cv-chat .cv-with:empty,.cv-chat .cv-status:empty{display:none}
.cv-log{flex:1;min-height:0;overflow-y:auto;overscroll-behavior:contain;padding:12px 16px}
.cv-line{display:grid;grid-template-columns:44px minmax(0,1fr);gap:0 8px;margin:0 0 6px}
.cv-line time{font-size:12px;line-height:24px;color:var(--cv-faded);font-variant-numeric:tabular-nums}
.cv-line p{margin:0;white-space:pre-line;overflow-wrap:anywhere;unicode-bidi:plaintext;text-align:start}
.cv-line b{display:block;font-weight:650}.cv-line b:empty{display:none}
.cv-line b:not(:empty),.cv-line:has(b:not(:empty)) time{margin-top:8px}
.cv-line small{display:block;font-size:13px;line-height:20px;color:var(--cv-faded)}
.cv-line.visitor p{padding-inline-start:10px;border-inline-start:2px solid var(--cv-accent)}
.cv-line.house p{color:var(--cv-faded);font-size:15px}
.cv-line.unsent{opacity:.6}
.cv-line img{display:block;max-width:100%;height:auto;margin-top:6px}
.cv-chat .cv-status,.cv-chat>.cv>.cv-flaw{margin:0;padding:2px 16px;font-size:14px;line-height:20px;color:var(--cv-faded)}
.cv-chat>.cv>.cv-flaw{color:var(--cv-wrong)}
.cv-chat .cv-ask{padding:4px 16px 0;max-height:45%;overflow-y:auto}
.cv-chat .cv-ask:empty{display:none}
.cv-chat .cv-ask p{margin:0 0 6px;color:var(--cv-faded)}
.cv-chat .cv-choose{min-height:44px;margin:0 8px 8px 0;padding:8px 14px;border:1px solid var(--cv-accent);border-radius:var(--cv-round-button);background:var(--cv-sheet);color:var(--cv-accent);font-weight:600;cursor:pointer;text-align:start}
.cv-chat .cv-choose:hover{background:color-mix(in srgb,var(--cv-accent) 10%,var(--cv-sheet))}
.cv-chat .cv-acts{padding-bottom:12px}
.cv-address{display:grid;grid-template-columns:minmax(0,1fr) auto;gap:0 8px;align-items:end}.cv-address .cv-question{margin-bottom:12px}.cv-address .cv-button{width:auto;margin:0}
.cv-chat .cv-acts .cv-choose{margin:0}
.cv-chat .cv-rates{margin-top:8px;padding-bottom:4px}
.cv-chat .cv-write{display:flex;gap:8px;align-items:flex-end;padding:8px 16px 12px;border-top:1px solid var(--cv-rule)}
.cv-write textarea::placeholder{white-space:nowrap;overflow:hidden;text-overflow:ellipsis}
.cv-line .cv-rich>*{margin:0 0 6px}.cv-rich ul,.cv-rich ol{padding-inline-start:20px}.cv-rich table{border-collapse:collapse;font-size:14px}.cv-rich :is(td,th){padding:2px 8px 2px 0;border-bottom:1px solid var(--cv-rule);text-align:start;vertical-align:top}.cv-rich a{display:inline}
.cv-chat .cv-write textarea{flex:1;min-height:46px;height:46px;max-height:140px;resize:none}
.cv-chat .cv-attach{flex:none;width:44px;height:46px;padding:10px;border:1px solid var(--cv-rule);border-radius:var(--cv-round-button);background:none;color:var(--cv-ink);cursor:pointer}
.cv-chat .cv-attach[hidden]{display:none}
.cv-attach svg{display:block;width:22px;height:22px;fill:none;stroke:currentColor;stroke-width:1.6}
.cv-line a{color:var(--cv-accent);display:block;overflow-wrap:anywhere}
.cv-line a img{max-height:240px;width:auto}
.cv-chat .cv-write .cv-button{width:auto;flex:none}
@media (max-width:640px){.cv-chat:not(.cv-inline){inset-inline:0!important;width:100vw;height:100dvh}.cv-chat:not(.cv-inline) .cv{border-radius:0;border:0}}
@media (prefers-reduced-motion:no-preference){.cv-chat:not(.cv-inline),.cv-greeting{animation:cv-in .18s ease-out}@keyframes cv-in{from{opacity:0}}}
`
