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
  private SmallScene() {}

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
    String json =
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
    Path zip = folder.resolve("slider.zip");
    try (OutputStream out = Files.newOutputStream(zip);
        ZipOutputStream z = new ZipOutputStream(out)) {
      z.putNextEntry(new ZipEntry("slider/slider.gltf"));
      String side =
          ",{\"name\":\"side\",\"camera\":0,\"translation\":[3,0,5],\"rotation\":[0,0.26,0,0.9656]}],";
      String all =
          two
              ? json.replace("[0,0,6]}],", "[0,0,6]}" + side).replace("[0,1]}]", "[0,1,2]}]")
              : json;
      z.write(all.replace("0.8,0.1,0.1", colour).getBytes(StandardCharsets.UTF_8));
      z.putNextEntry(new ZipEntry("slider/data/slide.bin"));
      z.write(b.array(), 0, 92);
    }
    return zip;
  }
}
