package posada.e2e;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/** A square that slides for 12 frames under a plain sky, seen by one camera; packed as a zip. */
final class SmallScene {
  private static final String JSON =
      """
        {"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0,1]}],
         "nodes":[{"name":"slider","mesh":0},{"name":"front","camera":0,"translation":[0,0,6]}],
         "cameras":[{"type":"perspective","perspective":{"yfov":0.7,"znear":0.1}}],
         "meshes":[{"name":"square","primitives":[{"attributes":{"POSITION":0},"indices":1,"material":0}]}],
         "materials":[{"name":"red","pbrMetallicRoughness":{"baseColorFactor":[0.8,0.1,0.1,1],"metallicFactor":0}}],
         "animations":[{"name":"slide","samplers":[{"input":2,"output":3}],
           "channels":[{"sampler":0,"target":{"node":0,"path":"translation"}}]}],
         "accessors":[
           {"bufferView":0,"componentType":5126,"count":4,"type":"VEC3","min":[-1,-1,0],"max":[1,1,0]},
           {"bufferView":1,"componentType":5123,"count":6,"type":"SCALAR"},
           {"bufferView":2,"componentType":5126,"count":2,"type":"SCALAR","min":[0.041666668],"max":[0.5]},
           {"bufferView":3,"componentType":5126,"count":2,"type":"VEC3"}],
         "bufferViews":[{"buffer":0,"byteLength":48},{"buffer":0,"byteOffset":48,"byteLength":12},
           {"buffer":0,"byteOffset":60,"byteLength":8},{"buffer":0,"byteOffset":68,"byteLength":24}],
         "buffers":[{"byteLength":92,"uri":"data/slide.bin"}]}
        """;

  /** A second camera. */
  private static final String SIDE =
      ",{\"name\":\"side\",\"camera\":0,\"translation\":[3,0,5],\"rotation\":[0,0.26,0,0.9656]}],";

  private SmallScene() {}

  private static byte[] binary() {
    ByteBuffer b = ByteBuffer.allocate(104).order(ByteOrder.LITTLE_ENDIAN);
    for (float f : new float[] {-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0}) {
      b.putFloat(f);
    }
    for (int i : new int[] {0, 1, 2, 0, 2, 3}) {
      b.putShort((short) i);
    }
    b.putFloat(1 / 24f).putFloat(12 / 24f);
    for (float f : new float[] {-1, 0, 0, 1, 0, 0}) {
      b.putFloat(f);
    }
    return b.array();
  }

  static Path write(Path folder) throws IOException {
    return write(folder, "0.8,0.1,0.1");
  }

  /**
   * @param colour of the square: red, green and blue with commas between
   */
  static Path write(Path folder, String colour) throws IOException {
    return write(folder, colour, false);
  }

  /**
   * @param two true for a second camera, at the side
   */
  static Path write(Path folder, String colour, boolean two) throws IOException {
    String all =
        two ? JSON.replace("[0,0,6]}],", "[0,0,6]}" + SIDE).replace("[0,1]}]", "[0,1,2]}]") : JSON;
    return zip(folder, all.replace("0.8,0.1,0.1", colour), binary());
  }

  /** The same as {@link #write} with two cameras, after somebody has renamed the square. */
  static Path renamed(Path folder) throws IOException {
    String all =
        JSON.replace("[0,0,6]}],", "[0,0,6]}" + SIDE)
            .replace("[0,1]}]", "[0,1,2]}]")
            .replace("\"slider\"", "\"sledge\"");
    return zip(folder, all, binary());
  }

  /**
   * The square slides in a white room that is open to the front, so that walls light each other.
   */
  static Path room(Path folder) throws IOException {
    return zip(folder, room(), binary());
  }

  private static String room() {
    String walls =
        """
        [0,0,6]},
         {"name":"floor","mesh":1,"scale":[4,4,4],"translation":[0,-2,-2],"rotation":[-0.7071068,0,0,0.7071068]},
         {"name":"ceiling","mesh":1,"scale":[4,4,4],"translation":[0,2,-2],"rotation":[0.7071068,0,0,0.7071068]},
         {"name":"left","mesh":1,"scale":[4,4,4],"translation":[-4,0,-2],"rotation":[0,0.7071068,0,0.7071068]},
         {"name":"right","mesh":1,"scale":[4,4,4],"translation":[4,0,-2],"rotation":[0,-0.7071068,0,0.7071068]},
         {"name":"back","mesh":1,"scale":[4,4,4],"translation":[0,0,-6]}],
        """;
    String wall =
        """
        "material":0}]},{"name":"wall","primitives":[{"attributes":{"POSITION":0},"indices":1,"material":1}]}],
        """;
    String white =
        """
        "metallicFactor":0}},{"name":"white","doubleSided":true,"pbrMetallicRoughness":{"baseColorFactor":[0.8,0.8,0.8,1],"metallicFactor":0}}],
        """;
    return JSON.replace("[0,0,6]}],\n", walls)
        .replace("[0,1]}]", "[0,1,2,3,4,5,6]}]")
        .replace("\"material\":0}]}],\n", wall)
        .replace("\"metallicFactor\":0}}],\n", white);
  }

  /** The same room, which is lit by the square alone. */
  static Path lamp(Path folder) throws IOException {
    String dull = "[0.8,0.1,0.1,1],\"metallicFactor\":0}";
    String shines =
        dull
            + ",\"emissiveFactor\":[1,0.6,0.2],"
            + "\"extensions\":{\"KHR_materials_emissive_strength\":{\"emissiveStrength\":3}}";
    String uses = "{\"extensionsUsed\":[\"KHR_materials_emissive_strength\"],\"asset\"";
    return zip(folder, room().replace(dull, shines).replace("{\"asset\"", uses), binary());
  }

  /** A great number of the same squares in rows, beside the one that slides. */
  static Path many(Path folder, int n) throws IOException {
    StringBuilder nodes = new StringBuilder("[0,0,6]}"), roots = new StringBuilder("[0,1");
    for (int i = 1; i < n; i++) {
      nodes.append(
          ",{\"name\":\"pebble-%d\",\"mesh\":0,\"scale\":[0.02,0.02,0.02],\"translation\":[%.2f,%.2f,-2]}"
              .formatted(i, i % 200 * 0.05 - 5, i / 200 * 0.05 - 2.5));
      roots.append(',').append(i + 1);
    }
    return zip(
        folder,
        JSON.replace("[0,0,6]}],", nodes + "],").replace("[0,1]}]", roots + "]}]"),
        binary());
  }

  private static Path zip(Path folder, String gltf, byte[] data) throws IOException {
    Path zip = folder.resolve("slider.zip");
    try (OutputStream out = Files.newOutputStream(zip);
        ZipOutputStream z = new ZipOutputStream(out)) {
      z.putNextEntry(new ZipEntry("slider/slider.gltf"));
      z.write(gltf.getBytes(StandardCharsets.UTF_8));
      z.putNextEntry(new ZipEntry("slider/data/slide.bin"));
      z.write(data, 0, 92);
    }
    return zip;
  }
}
