package posada.formats.review;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.image.NameHash;
import posada.core.parallel.Workers;
import posada.core.review.Look;
import posada.core.settings.Pass;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;

/** What can be looked at of files, whoever wrote them. */
class FootageTest {
  private static final float PINE = NameHash.toFloat(NameHash.of("pine-1"));

  @TempDir Path folder;

  private static Channel channel(String name, float... data) {
    return new Channel(name, Precision.FLOAT, data);
  }

  /** Two pixels: grey and brass, the second with a tree over a third of it. */
  private Footage file() throws Exception {
    String key = NameHash.key("matte-objects");
    FrameImage image =
        new FrameImage(
            2,
            1,
            new FrameImage.Window(0, 0, 2, 1),
            List.of(
                channel("R", 0.5f, 0.412234f),
                channel("G", 0.5f, 0.155f),
                channel("B", 0.5f, 12.3456f),
                channel("A", 1, 0),
                channel("depth.Z", 3.25f, Float.POSITIVE_INFINITY),
                channel("light-key.R", 0.1f, 0.2f),
                channel("light-key.G", 0.1f, 0.2f),
                channel("light-key.B", 0.1f, Float.NaN),
                channel("matte-objects00.R", 0, PINE),
                channel("matte-objects00.G", 0, 0.333f),
                channel("matte-objects00.B", 0, 0),
                channel("matte-objects00.A", 0, 0),
                channel("matte-objects01.R", 0, 0),
                channel("matte-objects01.G", 0, 0),
                channel("matte-objects01.B", 0, 0),
                channel("matte-objects01.A", 0, 0)),
            Map.of(
                key + "name",
                "matte-objects",
                key + "manifest",
                "{\"pine-1\":\"" + NameHash.hex("pine-1") + "\"}"));
    Path p = folder.resolve("a.0007.exr");
    Files.write(p, ExrWriter.encode(image, ExrHeader.NONE, ExrCompression.ZIP, Workers.CALLER));
    FrameFiles.Part part = new FrameFiles.Part(FileFormat.EXR, Set.of(Pass.BEAUTY), p);
    return new Footage("a", List.of(6, 7), f -> f == 7 ? List.of(part) : List.of());
  }

  @Test
  void channelsWithOneNameBeforeTheDotAreOnePassAndTheBeautyComesFirst() throws Exception {
    Footage f = file();
    assertEquals(List.of(7), f.written());
    List<ChannelGroup> groups = f.groups(7).stream().map(Footage.Found::group).toList();
    assertEquals("beauty", groups.get(0).name());
    assertEquals(List.of("R", "G", "B", "A"), groups.get(0).channels());
    assertEquals(
        Set.of("beauty", "depth", "light-key", "matte-objects"),
        Set.copyOf(groups.stream().map(ChannelGroup::name).toList()));
    ChannelGroup matte = f.find(7, "matte-objects").group();
    assertEquals(8, matte.channels().size());
    assertEquals("matte-objects00.R", matte.channels().get(0));
    assertFalse(matte.light());
    assertTrue(f.find(7, "light-key").group().light(), "the light of one group is light");
    assertEquals(2, f.size(7)[0]);
  }

  @Test
  void everyPassHoldsSomethingInWordsAtAPixel() throws Exception {
    Footage f = file();
    List<String> said = new ArrayList<>();
    for (String pass : List.of("beauty", "depth", "light-key", "matte-objects")) {
      Footage.Found found = f.find(7, pass);
      FrameImage whole = posada.formats.files.WrittenPicture.read(found.file());
      PixelValues v = PixelValues.of(found.group(), whole, 1, 0);
      said.add(pass + " " + v.channels() + " " + v.values() + " " + v.names());
    }
    assertEquals(
        List.of(
            "beauty [R, G, B, A] [0.4122, 0.1550, 12.35, 0.0000] []",
            "depth [Z] [nothing] []",
            "light-key [R, G, B] [0.2000, 0.2000, no number] []",
            "matte-objects [] [] [pine-1 33 %]"),
        said);
  }

  @Test
  void lightIsLookedAtThroughALookAndDataIsNot() throws Exception {
    Footage f = file();
    Look dark = new Look(Look.Shown.COLOUR, Look.View.STANDARD, -3, 1);
    Footage.Found light = f.find(7, "light-key"), depth = f.find(7, "depth");
    int plain = light.group().show(Footage.read(light), Look.STANDARD).samples()[0] & 0xffff;
    assertTrue((light.group().show(Footage.read(light), dark).samples()[0] & 0xffff) < plain / 2);
    assertEquals(
        depth.group().show(Footage.read(depth), Look.STANDARD).samples()[0],
        depth.group().show(Footage.read(depth), dark).samples()[0]);
  }

  @Test
  void whatIsNotThereIsToldWithWhatIs() throws Exception {
    Footage f = file();
    assertThrows(NoSuchFileException.class, () -> f.find(6, "beauty"));
    String why =
        assertThrows(IllegalArgumentException.class, () -> f.find(7, "sheen")).getMessage();
    assertTrue(why.startsWith("Frame 7 of a has no pass \"sheen\"; it has beauty, "), why);
  }
}
