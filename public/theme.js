// Before the first paint, so that nobody who works in the dark is dazzled.
try {
  const chosen = localStorage.getItem('cavlin.theme')
  document.documentElement.classList.toggle('dark', chosen ? chosen === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches)
} catch { /* storage is blocked: light it is */ }
