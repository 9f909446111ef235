/** Three factors as they are typed: one number where they are the same. */
export const factorsText = (f: number[]) =>
  f.every((v) => v === f[0]) ? String(f[0]) : f.join(' ');

/** Reads one factor or three; what is no number is left for the server to refuse. */
export const factors = (text: string) => {
  const all = text
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  return all.length === 1 ? [all[0]!, all[0]!, all[0]!] : all;
};
