/** What foreign code in a frame may do (HTML's sandbox): run, send its own forms, and open other sites beside ours. */
export const SANDBOX = 'allow-scripts allow-forms allow-popups allow-popups-to-escape-sandbox'
