package posada.formats.settings;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Function;
import posada.core.assembly.Corrections;
import posada.core.assembly.Mask;
import posada.core.assembly.Operator;
import posada.core.assembly.Reading;
import posada.core.assembly.Source;
import posada.core.rig.Ease;
import posada.core.rig.RigLight;
import posada.core.scene.Track;
import posada.core.settings.Filter;
import posada.core.settings.Layer;
import posada.core.settings.OwnPass;
import posada.core.settings.Pass;
import posada.core.settings.Preview;
import posada.core.settings.Sampling;
import posada.formats.assembly.FilmOutput;
import posada.formats.exr.ExrCompression;
import posada.formats.files.Delivery;
import posada.formats.files.DeliveryColor;
import posada.formats.files.Extra;
import posada.formats.files.FileFormat;
import posada.formats.preview.BurnIn;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.JsonParser;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationContext;
import tools.jackson.databind.ValueDeserializer;
import tools.jackson.databind.ValueSerializer;
import tools.jackson.databind.exc.InvalidFormatException;
import tools.jackson.databind.module.SimpleModule;

/**
 * How settings are read from JSON and written to it: choices by their names, a number over time as
 * the number or as pairs of seconds and number, and what is left out as it is by default.
 */
public final class SettingsModule extends SimpleModule {
  private static final long serialVersionUID = 1;
  private static final LocalDate FIRST_DAY = LocalDate.of(2000, 1, 1);

  /** What the message of a value begins with that is of the wrong kind. */
  static final String MUST_BE = "must be ";

  /** Names of choices, in order. */
  private static final Map<Class<?>, List<String>> NAMES = new LinkedHashMap<>();

  public SettingsModule() {
    super("posada-settings");
    choice(Pass.class, Pass::label);
    choice(FileFormat.class, FileFormat::label);
    choice(ExrCompression.class, ExrCompression::label);
    choice(Delivery.ExrDepth.class, SettingsModule::name);
    choice(DeliveryColor.Encoding.class, SettingsModule::name);
    choice(DeliveryColor.Space.class, SettingsModule::name);
    choice(Extra.class, SettingsModule::name);
    choice(Sampling.Pattern.class, SettingsModule::name);
    choice(Filter.Shape.class, SettingsModule::name);
    choice(Layer.Role.class, SettingsModule::name);
    choice(Layer.Plain.Kind.class, SettingsModule::name);
    choice(OwnPass.Quantity.class, SettingsModule::name);
    choice(Preview.Style.class, SettingsModule::name);
    choice(Preview.Kind.class, SettingsModule::name);
    choice(BurnIn.class, SettingsModule::name);
    choice(Operator.class, SettingsModule::name);
    choice(Source.Kind.class, SettingsModule::name);
    choice(Reading.Light.class, SettingsModule::name);
    choice(Reading.Alpha.class, SettingsModule::name);
    choice(Mask.Kind.class, SettingsModule::name);
    choice(Corrections.Repeat.class, SettingsModule::name);
    choice(FilmOutput.Kind.class, SettingsModule::name);
    choice(Ease.class, SettingsModule::name);
    choice(RigLight.Kind.class, SettingsModule::name);
    overTime(
        Track.class,
        "a number",
        n -> n.isNumber() ? n.asDouble() : Double.NaN,
        v -> v,
        t -> t,
        t -> t);
    overTime(
        Dates.class,
        "a date like 2026-06-21",
        n -> n.isString() ? days(n.asString()) : Double.NaN,
        v -> FIRST_DAY.plusDays(Math.round(v)).toString(),
        Dates::new,
        Dates::days);
    overTime(
        Times.class,
        "a time like 14:30 or a number of hours",
        n -> n.isString() ? hours(n.asString()) : n.isNumber() ? n.asDouble() : Double.NaN,
        v -> v,
        Times::new,
        Times::hours);
    setDeserializerModifier(new Defaults());
  }

  /** Returns the names of a choice; none if it is none of a setting's. */
  public static List<String> names(Class<?> kind) {
    return NAMES.getOrDefault(kind, List.of());
  }

  private static String name(Enum<?> e) {
    return e.name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  private static double days(String date) {
    try {
      return ChronoUnit.DAYS.between(FIRST_DAY, LocalDate.parse(date));
    } catch (DateTimeException e) {
      return Double.NaN;
    }
  }

  private static double hours(String time) {
    try {
      return LocalTime.parse(time).toSecondOfDay() / 3600.0;
    } catch (DateTimeException e) {
      return Double.NaN;
    }
  }

  private <E extends Enum<E>> void choice(Class<E> kind, Function<E, String> name) {
    Map<String, E> named = new LinkedHashMap<>();
    for (E e : kind.getEnumConstants()) {
      named.put(name.apply(e), e);
    }
    synchronized (NAMES) {
      NAMES.put(kind, List.copyOf(named.keySet()));
    }
    addDeserializer(
        kind,
        new ValueDeserializer<E>() {
          @Override
          public E deserialize(JsonParser p, DeserializationContext c) {
            JsonNode n = c.readTree(p);
            E e = n.isString() ? named.get(n.asString()) : null;
            return e != null ? e : wrong(c, kind, n, "one of " + String.join(", ", named.keySet()));
          }
        });
    addSerializer(
        kind,
        new ValueSerializer<E>() {
          @Override
          public void serialize(E v, JsonGenerator g, SerializationContext c) {
            g.writeString(name.apply(v));
          }
        });
  }

  static <T> T wrong(DeserializationContext c, Class<T> kind, JsonNode given, String needed) {
    throw new InvalidFormatException(c.getParser(), MUST_BE + needed, given, kind);
  }

  /**
   * A value or a list of pairs of seconds and value.
   *
   * @param read turns a value into a number; NaN for what is no such value
   * @param write turns a number into what is written
   */
  private <T> void overTime(
      Class<T> kind,
      String needed,
      Function<JsonNode, Double> read,
      Function<Double, Object> write,
      Function<Track, T> of,
      Function<T, Track> track) {
    addDeserializer(
        kind,
        new ValueDeserializer<T>() {
          @Override
          public T deserialize(JsonParser p, DeserializationContext c) {
            JsonNode n = c.readTree(p);
            double one = read.apply(n);
            if (!Double.isNaN(one)) {
              return of.apply(Track.of(one));
            }
            double[] times = new double[n.isArray() ? n.size() : 0], values = times.clone();
            boolean fits = times.length > 0;
            for (int i = 0; fits && i < times.length; i++) {
              JsonNode pair = n.get(i);
              fits = pair.isArray() && pair.size() == 2 && pair.get(0).isNumber();
              if (fits) {
                times[i] = pair.get(0).asDouble();
                values[i] = read.apply(pair.get(1));
                fits = !Double.isNaN(values[i]);
              }
            }
            return fits
                ? of.apply(new Track(times, values))
                : wrong(c, kind, n, needed + ", or a list of pairs of seconds and " + needed);
          }
        });
    addSerializer(
        kind,
        new ValueSerializer<T>() {
          @Override
          public void serialize(T v, JsonGenerator g, SerializationContext c) {
            Track t = track.apply(v);
            // A single key elsewhere is one to which others will come.
            if (t.times().length == 1 && t.times()[0] == 0) {
              g.writePOJO(write.apply(t.values()[0]));
              return;
            }
            g.writeStartArray();
            for (int i = 0; i < t.times().length; i++) {
              g.writeStartArray();
              g.writeNumber(t.times()[i]);
              g.writePOJO(write.apply(t.values()[i]));
              g.writeEndArray();
            }
            g.writeEndArray();
          }
        });
  }
}
