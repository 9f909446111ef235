/** Says which of some patterns no object fits. */
export function UnfitNote({ of, unfit }: { of: string[]; unfit: string[] }) {
  const some = of.filter((p) => unfit.includes(p));
  return some.length > 0 ? (
    <span className="w-full text-xs text-bad">
      no object is called {some.join(', ')} in this scene; * stands for any letters
    </span>
  ) : null;
}
