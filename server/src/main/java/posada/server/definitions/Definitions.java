package posada.server.definitions;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.transaction.annotation.Transactional;
import posada.formats.settings.Documents;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Stale;
import posada.server.changes.ChangeLog;
import posada.server.changes.Changeable;
import posada.server.productions.Production;
import posada.server.productions.ProductionPart;
import tools.jackson.databind.node.ObjectNode;

/** Making and changing definitions of one kind. */
public abstract class Definitions<D> implements Changeable, ProductionPart {
  private final String kind;
  private final Class<D> type;
  private final Stale.Kind list;
  private final Map<String, D> standards;
  private final DefinitionRepository repository;
  private final ChangeLog log;
  private final EventHub events;
  private final ObjectProvider<DefinitionUser> users;

  /**
   * @param kind a word for one
   * @param standards what a new production begins with, in their order
   */
  Definitions(String kind, Class<D> type, Stale.Kind list, Map<String, D> standards, Parts parts) {
    this.kind = kind;
    this.type = type;
    this.list = list;
    this.standards = standards;
    repository = parts.repository();
    log = parts.log();
    events = parts.events();
    users = parts.users();
  }

  /** What all kinds work with. */
  record Parts(
      DefinitionRepository repository,
      ChangeLog log,
      EventHub events,
      ObjectProvider<DefinitionUser> users) {}

  /** Returns those of a production in their order. */
  public List<Definition<D>> all(long production) {
    return repository.all(kind, type, production);
  }

  /** Returns one; the error names its number. */
  public Definition<D> find(long id) {
    return repository
        .find(kind, type, id)
        .orElseThrow(() -> new NotFoundException("There is no " + kind + " " + id + " any more."));
  }

  /** Returns one of a production; the error says what there is. */
  public Definition<D> of(long production, long id) {
    return all(production).stream()
        .filter(d -> d.id() == id)
        .findFirst()
        .orElseThrow(
            () ->
                new IllegalArgumentException(
                    "This production has no " + kind + " " + id + "; choose another."));
  }

  /** Returns the one that comes first. */
  public Definition<D> first(long production) {
    return all(production).stream()
        .findFirst()
        .orElseThrow(() -> new NotFoundException("There is no production " + production + "."));
  }

  /** Returns one by its name, if there is one. */
  public Optional<Definition<D>> named(long production, String name) {
    return all(production).stream().filter(d -> d.name().equals(name)).findFirst();
  }

  /** Returns the number of the one that has the same name in another production. */
  public Long sameIn(Long id, long production) {
    return id == null ? null : Long.valueOf(named(production, find(id).name()).orElseThrow().id());
  }

  /**
   * Makes one, behind the others.
   *
   * @param name the one wanted; if it is taken a number is added
   */
  @Transactional
  public Definition<D> add(long production, String name, D document) {
    List<Definition<D>> there = all(production);
    int last = there.stream().mapToInt(Definition::place).max().orElse(-1);
    Definition<D> made =
        find(
            repository.add(
                kind,
                named(new Definition<>(0, 1, production, free(there, name), last + 1, document))));
    log.record(production, kind, made.id(), null, text(made), "new " + kind + " " + made.name());
    events.publish(new Stale(list));
    return made;
  }

  private static String free(List<? extends Definition<?>> there, String name) {
    String free = name;
    for (int k = 2; taken(there, free); k++) {
      free = name + "-" + k;
    }
    return free;
  }

  private static boolean taken(List<? extends Definition<?>> there, String name) {
    return there.stream().anyMatch(d -> d.name().equals(name));
  }

  /** Changes one. */
  @Transactional
  public Definition<D> change(Definition<D> d) {
    Definition<D> before = find(d.id());
    if (before.version() != d.version()) {
      throw log.overtaken(kind, d.id(), kind + " \"" + before.name() + "\"");
    }
    check(before.productionId(), d.document());
    repository.change(kind, named(d));
    Definition<D> now = find(d.id());
    log.record(
        now.productionId(),
        kind,
        now.id(),
        text(before),
        text(now),
        difference(before, now) + " of " + kind + " " + now.name());
    events.publish(new Stale(list));
    return now;
  }

  private String difference(Definition<D> before, Definition<D> now) {
    if (!before.name().equals(now.name())) {
      return "name";
    }
    return before.place() == now.place() ? difference(before.document(), now.document()) : "place";
  }

  /**
   * Brings those of a production into an order; it is one step.
   *
   * @param ids the first first; those that are left out come last
   */
  @Transactional
  public List<Definition<D>> order(long production, List<Long> ids) {
    List<Definition<D>> all = new ArrayList<>(all(production));
    all.sort(
        Comparator.comparingInt(
            d -> ids.contains(d.id()) ? ids.indexOf(d.id()) : ids.size() + d.place()));
    for (int i = 0; i < all.size(); i++) {
      Definition<D> d = all.get(i);
      if (d.place() != i) {
        change(new Definition<>(d.id(), d.version(), production, d.name(), i, d.document()));
      }
    }
    return all(production);
  }

  /** Returns in a few words what is not the same. */
  abstract String difference(D before, D now);

  /** Returns one whose document knows its name. */
  Definition<D> named(Definition<D> d) {
    return d;
  }

  /** Refuses a document that does not fit into its production. */
  void check(long production, D document) {}

  /** Returns true if a production cannot be without one. */
  boolean needed() {
    return true;
  }

  /** Removes one that nothing uses. */
  @Transactional
  public void remove(long id) {
    Definition<D> d = find(id);
    refuseUsed(d);
    if (needed() && all(d.productionId()).size() == 1) {
      throw new ConflictException(
          "\"" + d.name() + "\" is the only " + kind + "; make another first.");
    }
    repository.remove(id);
    log.record(d.productionId(), kind, id, text(d), null, "removal of " + kind + " " + d.name());
    events.publish(new Stale(list));
  }

  private void refuseUsed(Definition<D> d) {
    List<String> by = users.stream().flatMap(u -> u.users(kind, d).stream()).sorted().toList();
    if (!by.isEmpty()) {
      throw new ConflictException(
          "The "
              + kind
              + " \""
              + d.name()
              + "\" is used by "
              + String.join(", ", by.subList(0, Math.min(3, by.size())))
              + (by.size() > 3 ? " and " + (by.size() - 3) + " more" : "")
              + "; choose another there first.");
    }
  }

  /** What is recorded of one; its parts are always written in this order. */
  private record State(String name, int place, Object document) {}

  private static String text(Definition<?> d) {
    return Documents.write(new State(d.name(), d.place(), d.document()));
  }

  @Override
  public String kind() {
    return kind;
  }

  @Override
  public String state(long id) {
    return repository.find(kind, type, id).map(Definitions::text).orElse(null);
  }

  @Override
  public void bring(long id, String state) {
    if (state == null) {
      refuseUsed(find(id));
      repository.remove(id);
    } else {
      ObjectNode s = Documents.object(state);
      D document = Documents.read(s.get("document"), type);
      check(repository.production(id), document);
      repository.bring(
          kind,
          new Definition<>(id, 0, 0, s.get("name").asString(), s.get("place").asInt(), document));
    }
    events.publish(new Stale(list));
  }

  @Override
  public int order() {
    return 0;
  }

  @Override
  public void begin(Production p) {
    int place = 0;
    for (Map.Entry<String, D> s : standards.entrySet()) {
      repository.add(
          kind, named(new Definition<>(0, 1, p.id(), s.getKey(), place++, s.getValue())));
    }
  }

  @Override
  public void copy(Production from, Production to) {
    for (Definition<D> d : all(from.id())) {
      repository.add(
          kind,
          new Definition<>(
              0, 1, to.id(), d.name(), d.place(), moved(d.document(), from.id(), to.id())));
    }
  }

  /** Returns a document for another production, in which its names stand for other numbers. */
  D moved(D document, long from, long to) {
    return document;
  }
}
