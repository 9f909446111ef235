import { Listbox, ListboxOption, ListboxOptions } from '@headlessui/react';
import type { Clip, Shot } from '../api/client';
import { useProduction } from '../api/queries';
import { OpensList } from '../shell/Choice';
import { clipFrames, clipsOf, clipsText, span } from '../shell/format';
import { Row } from '../shell/Row';
import { Tick } from '../shell/Tick';
import { withSettings, type Put } from './settings';

/** Those of a scene's animations that a shot plays. */
export function playing(all: Clip[], shot: Shot): Clip[] {
  const chosen = clipsOf(shot.settings);
  return chosen ? all.filter((a) => chosen.includes(a.name)) : all;
}

/** Which of a scene's animations play; files of characters have several that stand for each other. */
export function ClipChoice({ shot, clips, put }: { shot: Shot; clips: Clip[]; put: Put }) {
  const rate = useProduction().data?.frameRate ?? 24;
  const names = [...new Set(clips.map((c) => c.name))];
  const chosen = clipsOf(shot.settings);
  if (names.length < 2 && !chosen) {
    return null;
  }
  const take = (wanted: string[]) => {
    const next = names.filter((n) => wanted.includes(n));
    void put(withSettings(shot, { clips: next.length === names.length ? null : next }));
  };
  const frames = clipFrames(playing(clips, shot), rate);
  return (
    <Row name="Animation" hint={frames && span(frames)}>
      <Listbox value={chosen ?? names} onChange={take} multiple>
        <OpensList label="Animation" shown={chosen ? clipsText(chosen) : `all ${names.length}`} />
        <ListboxOptions
          anchor={{ to: 'bottom start', gap: 4, padding: 8 }}
          className="z-20 max-h-80 min-w-56 overflow-auto rounded-sm border border-t3 bg-up py-1 focus:outline-none"
        >
          {names.map((n) => (
            <ListboxOption
              key={n}
              value={n}
              className="group flex cursor-pointer gap-2 px-3 py-1 data-focus:bg-up2"
            >
              <Tick />
              <span className="grow whitespace-nowrap group-data-selected:font-semibold">{n}</span>
              <span className="fig pl-4 text-t3">
                {span(
                  clipFrames(
                    clips.filter((c) => c.name === n),
                    rate,
                  )!,
                )}
              </span>
            </ListboxOption>
          ))}
        </ListboxOptions>
      </Listbox>
    </Row>
  );
}
