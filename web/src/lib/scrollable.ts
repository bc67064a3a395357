/** scrollable is a ref that lets an element be scrolled by key for as long as it does not show all that it holds. */
export function scrollable(element: HTMLElement | null) {
  if (!element) return;
  const observer = new ResizeObserver(() => {
    const all = element.scrollWidth <= element.clientWidth && element.scrollHeight <= element.clientHeight;
    if (all) element.removeAttribute("tabindex");
    else element.tabIndex = 0;
  });
  observer.observe(element);
  for (const child of element.children) observer.observe(child);
  return () => observer.disconnect();
}
