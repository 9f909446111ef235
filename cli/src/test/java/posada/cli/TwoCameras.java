package posada.cli;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;

/** A scene of one triangle, which the camera "left" sees, and the camera "right" does not. */
final class TwoCameras {
  private TwoCameras() {}

  static Path in(Path folder) throws IOException {
    ByteBuffer b = ByteBuffer.allocate(36).order(ByteOrder.LITTLE_ENDIAN);
    for (float f : new float[] {-1, 0, -1, 0, 0, 2, 1, 0, -1}) {
      b.putFloat(f);
    }
    String text =
        """
        {"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0,1,2]}],
         "nodes":[{"mesh":0},{"name":"left","camera":0,"translation":[0,0.5,3]},{"name":"right","camera":0,"translation":[0,5,0]}],
         "cameras":[{"type":"perspective","perspective":{"yfov":0.8,"znear":0.1}}],
         "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],
         "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[-1,0,-1],"max":[1,0,2]}],
         "bufferViews":[{"buffer":0,"byteLength":36}],
         "buffers":[{"byteLength":36,"uri":"data:application/octet-stream;base64,%s"}]}
        """
            .formatted(Base64.getEncoder().encodeToString(b.array()));
    return Files.writeString(folder.resolve("two.gltf"), text);
  }
}
