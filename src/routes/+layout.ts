/** A live tool: the page is drawn in the browser, from the state that comes over `/live`. */
export const ssr = false;
export const prerender = false;
