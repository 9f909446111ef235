package posada.formats.gltf;

import de.javagl.jgltf.impl.v2.Accessor;
import de.javagl.jgltf.impl.v2.MeshPrimitive;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import posada.formats.draco.DracoDecoder;
import posada.formats.draco.DracoDecoder.Attribute;
import posada.formats.gltf.AccessorReader.Stored;

/** Meshes of a file that are compressed after KHR_draco_mesh_compression. */
final class PackedMeshes {
  static final String EXTENSION = "KHR_draco_mesh_compression";

  private final GltfFile file;
  private final AccessorReader plain;

  /** Made for the first mesh that needs it. */
  private DracoDecoder decoder;

  PackedMeshes(GltfFile file) {
    this.file = file;
    plain = new AccessorReader(file);
  }

  private static Map<?, ?> extension(MeshPrimitive p) {
    return p.getExtensions() != null && p.getExtensions().get(EXTENSION) instanceof Map<?, ?> e
        ? e
        : null;
  }

  /** Returns true if a part's triangles come out of a compressed mesh, a list of three each. */
  static boolean packed(MeshPrimitive p) {
    return extension(p) != null;
  }

  /** Returns a reader of a part's accessors, with decoded data for those that are compressed. */
  AccessorReader reader(MeshPrimitive p, String element) throws ImportException {
    Map<?, ?> e = extension(p);
    if (e == null) {
      return plain;
    }
    if (!(e.get("bufferView") instanceof Integer view)
        || !(e.get("attributes") instanceof Map<?, ?> ids)
        || p.getAttributes() == null
        || p.getIndices() == null) {
      throw file.failure(element, "is compressed without saying what is where");
    }
    List<Integer> accessors = new ArrayList<>();
    List<Attribute> wanted = new ArrayList<>();
    for (Map.Entry<?, ?> id : ids.entrySet()) {
      Integer accessor = p.getAttributes().get(String.valueOf(id.getKey()));
      if (accessor != null && id.getValue() instanceof Integer number) {
        accessors.add(accessor);
        wanted.add(attribute(number, accessor, element));
      }
    }
    DracoDecoder.Decoded decoded = decode(view, wanted, element);
    Map<Integer, Stored> instead = new HashMap<>();
    for (int i = 0; i < accessors.size(); i++) {
      int accessor = accessors.get(i);
      count(accessor, decoded.vertices(), element);
      int type = file.accessor(accessor, element).getComponentType();
      instead.put(accessor, new Stored(decoded.attributes().get(i), type));
    }
    count(p.getIndices(), decoded.indices().remaining() / Integer.BYTES, element);
    instead.put(p.getIndices(), new Stored(decoded.indices(), AccessorReader.UNSIGNED_INT));
    return new AccessorReader(file, instead);
  }

  private Attribute attribute(int id, int accessor, String element) throws ImportException {
    Integer type = file.accessor(accessor, element).getComponentType();
    DracoDecoder.Number number = type == null ? null : AccessorReader.number(type);
    if (number == null) {
      throw file.failure("accessor " + accessor, "has component type " + type);
    }
    return new Attribute(id, plain.components(accessor, element), number);
  }

  private DracoDecoder.Decoded decode(int view, List<Attribute> wanted, String element)
      throws ImportException {
    if (decoder == null) {
      decoder = new DracoDecoder();
    }
    try {
      return decoder.decode(file.view(view, element), wanted);
    } catch (DracoDecoder.DamagedMeshException e) {
      throw file.failure(element, e.getMessage());
    }
  }

  private void count(int accessor, int decoded, String element) throws ImportException {
    Accessor a = file.accessor(accessor, element);
    if (a.getCount() == null || a.getCount() != decoded) {
      throw file.failure(
          "accessor " + accessor,
          "has a count of " + a.getCount() + "; " + decoded + " were compressed for " + element);
    }
  }
}
