import type { Recipe } from '../api/client';
import { Choice } from '../shell/Choice';
import { Field, type Put } from '../shell/Field';
import { partOf, settingId, settingName, valueOf, valueText, type Setting } from './settings';

/** The value of a setting, which can be changed in place. */
export function SettingValue({
  setting,
  recipe,
  owner,
  put,
  name = settingName(setting),
}: {
  setting: Setting;
  recipe: Recipe;
  owner: string;
  put: Put<Partial<Recipe>>;
  /** How it is called to those who cannot see where it stands. */
  name?: string;
}) {
  const value = valueOf(recipe, setting);
  if (setting.options) {
    return (
      <Choice
        label={name}
        value={String(value)}
        shown={valueText(setting, value)}
        options={setting.options.map((o) => ({ ...o, value: String(o.value) }))}
        onChange={(v) => {
          const chosen = setting.options!.find((o) => String(o.value) === v)!;
          void put(partOf(recipe, setting, chosen.value), settingId(setting));
        }}
      />
    );
  }
  return (
    <Field
      owner={owner}
      label={setting.hint ? `${name}: ${setting.hint}` : name}
      value={String(value)}
      part={(v) => partOf(recipe, setting, Number(v))}
      put={put}
      className="fig w-16"
    />
  );
}
