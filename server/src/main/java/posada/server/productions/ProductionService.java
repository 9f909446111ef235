package posada.server.productions;

import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.plan.NamePattern;
import posada.formats.settings.Documents;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Stale;
import posada.server.changes.ChangeLog;
import posada.server.changes.Changeable;

/** Making, changing, copying and archiving productions. */
@Service
public class ProductionService implements Changeable {
  private static final String KIND = "production";

  /** What a production begins with. */
  private static final double FRAME_RATE = 24;

  private static final int WIDTH = 1920;
  private static final int HEIGHT = 1080;

  private final ProductionRepository productions;
  private final ChangeLog log;
  private final EventHub events;
  private final ObjectProvider<ProductionPart> parts;

  ProductionService(
      ProductionRepository productions,
      ChangeLog log,
      EventHub events,
      ObjectProvider<ProductionPart> parts) {
    this.productions = productions;
    this.log = log;
    this.events = events;
    this.parts = parts;
  }

  /** Returns all productions, the oldest first. */
  public List<Production> all() {
    return productions.all();
  }

  /** Returns a production; the error names its number. */
  public Production find(long id) {
    return productions
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no production " + id + "."));
  }

  /** Makes a production with the usual frame rate and size. */
  @Transactional
  public Production add(String name) {
    Production p = new Production(0, 1, name, "", FRAME_RATE, WIDTH, HEIGHT, null, false);
    Production made = productions.add(p.with(1, address(0, name)));
    inOrder().forEach(part -> part.begin(made));
    return added(made, "making production ");
  }

  /** Copies a production with its scenes and shots, without its runs. */
  @Transactional
  public Production copy(long id, String name) {
    Production from = find(id);
    Production to =
        productions.add(
            new Production(
                0,
                1,
                name,
                address(0, name),
                from.frameRate(),
                from.width(),
                from.height(),
                null,
                false));
    inOrder().forEach(part -> part.copy(from, to));
    return added(to, "copying a production to ");
  }

  private Stream<ProductionPart> inOrder() {
    return parts.stream().sorted(Comparator.comparingInt(ProductionPart::order));
  }

  private Production added(Production p, String what) {
    // Nothing is thrown away: what was not there before is put away.
    log.record(p.id(), KIND, p.id(), text(p.archived(true)), text(p), what + p.name());
    events.publish(new Stale(Stale.Kind.PRODUCTIONS));
    return p;
  }

  /** Changes a production; its address follows its name. */
  @Transactional
  public Production change(Production p) {
    Production before = find(p.id());
    if (before.version() != p.version()) {
      throw log.overtaken(KIND, p.id(), "production \"" + before.name() + "\"");
    }
    Production now = productions.change(p.with(p.version(), address(p.id(), p.name())));
    log.record(
        p.id(), KIND, p.id(), text(before), text(now), difference(before, now) + before.name());
    events.publish(new Stale(Stale.Kind.PRODUCTIONS));
    return now;
  }

  private static String difference(Production a, Production b) {
    if (a.archived() != b.archived()) {
      return b.archived() ? "archiving production " : "restoring production ";
    }
    if (!a.name().equals(b.name())) {
      return "name of production ";
    }
    if (!Objects.equals(a.deadline(), b.deadline())) {
      return "deadline of production ";
    }
    return (a.frameRate() != b.frameRate() ? "frame rate" : "default size") + " of production ";
  }

  /** The name as a part of an address that no other production has. */
  private String address(long id, String name) {
    String plain =
        NamePattern.folded(name).replaceAll("[^\\p{L}\\p{N}]+", "-").replaceAll("^-+|-+$", "");
    String first = plain.isEmpty() ? "production" : plain;
    List<String> taken =
        productions.all().stream().filter(p -> p.id() != id).map(Production::address).toList();
    String address = first;
    for (int k = 2; taken.contains(address) || address.equals("api"); k++) {
      address = first + "-" + k;
    }
    return address;
  }

  private static String text(Production p) {
    return Documents.write(p.with(0, ""));
  }

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String state(long id) {
    return productions.find(id).map(ProductionService::text).orElse(null);
  }

  @Override
  public void bring(long id, String state) {
    Production s = Documents.read(state, Production.class);
    productions.change(s.with(find(id).version(), address(id, s.name())));
    events.publish(new Stale(Stale.Kind.PRODUCTIONS));
  }
}
