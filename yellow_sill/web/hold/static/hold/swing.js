/** How the shell gives, played once: twice there and back; held still where motion is not wanted. */
const PLAY_MS = 2600,
  SWINGS = 2;

/**
 * @param {HTMLButtonElement} button rests while it plays
 * @param {(share: number) => void} show how far it is drawn given, -1 to 1; 0 at the end
 */
export function swing(button, show) {
  const start = performance.now(),
    still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  button.disabled = true;
  const step = (/** @type {number} */ now) => {
    const share = Math.min(1, (now - start) / PLAY_MS);
    if (share === 1) show(0);
    else show(still ? 1 : Math.sin(share * SWINGS * 2 * Math.PI));
    if (share < 1) requestAnimationFrame(step);
    else button.disabled = false;
  };
  requestAnimationFrame(step);
}
