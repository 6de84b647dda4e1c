/** The colours of some tokens as a canvas wants them: a token may stand for two colours, and only
 *  what is painted with it says which. */
export function painted<N extends string>(...names: N[]): Record<N, string> {
  const probe = document.documentElement.appendChild(document.createElement("i"));
  const found = names.map((name) => {
    probe.style.color = `var(--${name})`;
    return [name, getComputedStyle(probe).color] as const;
  });
  probe.remove();
  return Object.fromEntries(found) as Record<N, string>;
}
