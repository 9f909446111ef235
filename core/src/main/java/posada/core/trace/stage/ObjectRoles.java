package posada.core.trace.stage;

import java.util.BitSet;
import java.util.List;
import java.util.function.Function;
import posada.core.scene.NameMask;
import posada.core.scene.Scene;
import posada.core.settings.Layer;

/** What a layer makes of each node of a scene. Immutable. */
public final class ObjectRoles {
  private final Layer.Role[] roles;
  private final boolean[] shadows;
  private final boolean[] reflected;
  private final long[] receives;
  private final boolean[] plain;
  private final float[][] gains;

  /**
   * What the scene does not have counts for nothing.
   *
   * @throws IllegalArgumentException if a group does not exist
   */
  public ObjectRoles(Scene scene, Layer layer, LightGroups groups) {
    int n = scene.nodes().size();
    roles = new Layer.Role[n];
    shadows = new boolean[n];
    reflected = new boolean[n];
    receives = new long[n];
    plain = new boolean[n];
    gains = new float[n][];
    Layer.Rule[] role = first(scene, layer, Layer.Rule::role);
    Layer.Rule[] shadow = first(scene, layer, Layer.Rule::castsShadows);
    Layer.Rule[] mirror = first(scene, layer, Layer.Rule::reflected);
    Layer.Rule[] lit = first(scene, layer, Layer.Rule::receives);
    int[] own = exceptions(scene, layer);
    int[] gain =
        NameMask.inherited(scene.nodes(), layer.lights().stream().map(Layer.Gain::match).toList());
    for (int i = 0; i < n; i++) {
      roles[i] = role[i] == null ? layer.otherwise() : role[i].role();
      shadows[i] = shadow[i] == null || shadow[i].castsShadows();
      reflected[i] = mirror[i] == null || mirror[i].reflected();
      receives[i] = lit[i] == null ? -1 : mask(layer, groups, lit[i].receives());
      plain[i] = layer.material() != null && own[i] < 0;
      gains[i] = gain[i] < 0 ? null : floats(layer.lights().get(gain[i]).color());
    }
  }

  private ObjectRoles(ObjectRoles c, BitSet without) {
    roles = c.roles.clone();
    without.stream().forEach(i -> roles[i] = Layer.Role.LEFT_OUT);
    shadows = c.shadows;
    reflected = c.reflected;
    receives = c.receives;
    plain = c.plain;
    gains = c.gains;
  }

  /** Returns the same with more nodes left out. */
  public ObjectRoles without(BitSet nodes) {
    return nodes.isEmpty() ? this : new ObjectRoles(this, nodes);
  }

  private static int[] exceptions(Scene scene, Layer layer) {
    List<String> except = layer.material() == null ? List.of() : layer.material().except();
    return NameMask.inherited(scene.nodes(), List.of(except));
  }

  /** The first rule for each node that says something of a kind; null if there is none. */
  private static Layer.Rule[] first(Scene scene, Layer layer, Function<Layer.Rule, Object> said) {
    List<Layer.Rule> rules = layer.objects().stream().filter(r -> said.apply(r) != null).toList();
    int[] which = NameMask.inherited(scene.nodes(), rules.stream().map(Layer.Rule::match).toList());
    Layer.Rule[] out = new Layer.Rule[which.length];
    for (int i = 0; i < out.length; i++) {
      out[i] = which[i] < 0 ? null : rules.get(which[i]);
    }
    return out;
  }

  private static long mask(Layer layer, LightGroups groups, List<String> names) {
    long mask = 0;
    for (String name : names) {
      int g = groups.names().indexOf(name);
      if (g < 0) {
        throw new IllegalArgumentException(
            "layer "
                + layer.name()
                + " names the light group \""
                + name
                + "\"; there are "
                + String.join(", ", groups.names()));
      }
      mask |= 1L << g;
    }
    return mask;
  }

  private static float[] floats(List<Float> v) {
    return new float[] {v.get(0), v.get(1), v.get(2)};
  }

  /**
   * Returns what the layer makes of a node but for its material, to be compared with what another
   * makes of it.
   */
  public List<Object> content(int node) {
    return java.util.Arrays.asList(
        roles[node], shadows[node], reflected[node], receives[node], gains[node]);
  }

  Layer.Role role(int node) {
    return roles[node];
  }

  /** Returns the numbers of the nodes that are left out. */
  public BitSet leftOut() {
    BitSet out = new BitSet();
    for (int i = 0; i < roles.length; i++) {
      out.set(i, leftOut(i));
    }
    return out;
  }

  public boolean leftOut(int node) {
    return roles[node] == Layer.Role.LEFT_OUT;
  }

  boolean castsShadows(int node) {
    return shadows[node];
  }

  boolean reflected(int node) {
    return reflected[node];
  }

  /** Returns the light groups that light a node, as bits. */
  long receives(int node) {
    return receives[node];
  }

  /** Returns true if a node has the layer's plain material. */
  public boolean plain(int node) {
    return plain[node];
  }

  /** Returns the factor on what a node gives off; null for 1. */
  float[] gain(int node) {
    return gains[node];
  }
}
