/** The password of everyone in the demo world. The sign-in page shows it, so it opens nothing but what runs on one's own machine. */
export const PUBLISHED_PASSWORD = 'brackish harbour 7';
