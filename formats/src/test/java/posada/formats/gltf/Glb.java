package posada.formats.gltf;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import tools.jackson.databind.json.JsonMapper;

/** A file being put together: an orthographic camera of 2 x 2 metres looks along -Z. */
final class Glb {
  /** Pixels on each side of a picture. */
  static final int SIZE = 48;

  final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
  final List<Object> views = new ArrayList<>();
  final List<Object> accessors = new ArrayList<>();
  final List<Object> nodes = new ArrayList<>();
  final Map<String, Object> root = new LinkedHashMap<>();

  Glb() {
    root.put("asset", Map.of("version", "2.0"));
    root.put(
        "cameras",
        List.of(
            Map.of(
                "type",
                "orthographic",
                "orthographic",
                Map.of("xmag", 1, "ymag", 1, "znear", 0.1, "zfar", 20))));
    nodes.add(Map.of("name", "eye", "camera", 0, "translation", List.of(0, 0, 5)));
    root.put("materials", List.of(Map.of("extensions", Map.of("KHR_materials_unlit", Map.of()))));
  }

  int view(byte[] data) {
    while (bytes.size() % 4 != 0) {
      bytes.write(0);
    }
    views.add(Map.of("buffer", 0, "byteOffset", bytes.size(), "byteLength", data.length));
    bytes.writeBytes(data);
    return views.size() - 1;
  }

  int accessor(int view, int type, int count, String shape, boolean normalized) {
    accessors.add(
        Map.of(
            "bufferView", view,
            "componentType", type,
            "count", count,
            "type", shape,
            "normalized", normalized));
    return accessors.size() - 1;
  }

  int floats(String shape, int each, float... v) {
    ByteBuffer b = ByteBuffer.allocate(v.length * 4).order(ByteOrder.LITTLE_ENDIAN);
    b.asFloatBuffer().put(v);
    return accessor(view(b.array()), 5126, v.length / each, shape, false);
  }

  int shorts(int type, String shape, int each, boolean normalized, int... v) {
    ByteBuffer b = ByteBuffer.allocate(v.length * 2).order(ByteOrder.LITTLE_ENDIAN);
    for (int i : v) {
      b.putShort((short) i);
    }
    return accessor(view(b.array()), type, v.length / each, shape, normalized);
  }

  Path write(Path folder) throws Exception {
    root.put("nodes", nodes);
    List<Integer> all = new ArrayList<>();
    for (int i = 0; i < nodes.size(); i++) {
      all.add(i);
    }
    root.putIfAbsent("scenes", List.of(Map.of("nodes", all)));
    root.put("accessors", accessors);
    root.put("bufferViews", views);
    String data = Base64.getEncoder().encodeToString(bytes.toByteArray());
    root.put(
        "buffers",
        List.of(
            Map.of(
                "byteLength",
                bytes.size(),
                "uri",
                "data:application/octet-stream;base64," + data)));
    return Files.write(folder.resolve("s.gltf"), new JsonMapper().writeValueAsBytes(root));
  }

  FrameImage picture(Path folder, double seconds, RenderSettings settings) throws Exception {
    return new RenderScene(SceneImporter.load(write(folder)).scene(), Workers.CALLER)
        .frame(
            "eye", seconds, SIZE, SIZE, settings.with(EnumSet.complementOf(EnumSet.of(Pass.OWN))))
        .render(64, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  FrameImage picture(Path folder, double seconds) throws Exception {
    return picture(folder, seconds, RenderSettings.of(16, 0));
  }
}
