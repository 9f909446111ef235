package posada.formats.gltf;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.function.Consumer;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** A small valid scene (one triangle) as JSON, to be broken in one way or another. */
final class GltfJson {
  private static final JsonMapper JSON = new JsonMapper();

  private GltfJson() {}

  /** Bytes of the scene's buffer: three positions, three indices, padding. */
  static ByteBuffer buffer() {
    ByteBuffer b = ByteBuffer.allocate(44).order(ByteOrder.LITTLE_ENDIAN);
    for (float f : new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0}) {
      b.putFloat(f);
    }
    return b.putShort((short) 0).putShort((short) 1).putShort((short) 2).putShort((short) 0);
  }

  static ObjectNode scene(ByteBuffer buffer) {
    String data = Base64.getEncoder().encodeToString(buffer.array());
    String text =
        """
        {"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],
         "nodes":[{"name":"thing","mesh":0}],
         "meshes":[{"name":"tri","primitives":[{"attributes":{"POSITION":0},"indices":1}]}],
         "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,0]},
                      {"bufferView":1,"componentType":5123,"count":3,"type":"SCALAR"}],
         "bufferViews":[{"buffer":0,"byteLength":36},{"buffer":0,"byteOffset":36,"byteLength":8}],
         "buffers":[{"byteLength":44,"uri":"data:application/octet-stream;base64,%s"}]}
        """
            .formatted(data);
    return (ObjectNode) JSON.readTree(text);
  }

  static Path write(Path folder, Consumer<ObjectNode> change) throws IOException {
    return write(folder, buffer(), change);
  }

  static Path write(Path folder, ByteBuffer buffer, Consumer<ObjectNode> change)
      throws IOException {
    ObjectNode scene = scene(buffer);
    change.accept(scene);
    return Files.write(folder.resolve("scene.gltf"), JSON.writeValueAsBytes(scene));
  }

  /** Returns the JSON as a GLB of a version, its length field off by some bytes. */
  static byte[] glb(int version, int lie) {
    byte[] json = scene(buffer()).toString().getBytes(StandardCharsets.UTF_8);
    int padded = (json.length + 3) / 4 * 4;
    ByteBuffer b = ByteBuffer.allocate(20 + padded).order(ByteOrder.LITTLE_ENDIAN);
    b.putInt(0x46546C67).putInt(version).putInt(20 + padded + lie);
    b.putInt(padded).putInt(0x4E4F534A).put(json);
    while (b.hasRemaining()) {
      b.put((byte) ' ');
    }
    return b.array();
  }
}
