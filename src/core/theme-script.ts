/** Runs before anything is drawn, so that no page is seen in the other theme first. It stands in the page itself; `server/doors.ts` lets it run there. */
export const THEME_SCRIPT = "document.documentElement.dataset.theme = localStorage.getItem('signal-post-theme') ?? 'day';";
