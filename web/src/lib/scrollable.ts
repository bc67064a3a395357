/** scrollable is a ref that lets an element be scrolled by key for as long as it does not show all that it holds. */
export function scrollable(element: HTMLElement | null) {
  if (!element) return;
  const look = () => {
    const all = element.scrollWidth <= element.clientWidth && element.scrollHeight <= element.clientHeight;
    if (all) element.removeAttribute("tabindex");
    else element.tabIndex = 0;
  };
  const sizes = new ResizeObserver(look);
  sizes.observe(element);
  const observeChildren = () => {
    for (const child of element.children) sizes.observe(child);
    look();
  };
  // What it holds may be drawn anew.
  const contents = new MutationObserver(observeChildren);
  contents.observe(element, { childList: true });
  observeChildren();
  return () => {
    sizes.disconnect();
    contents.disconnect();
  };
}
