package posada.server.productions;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

@RestController
class ProductionController {
  private final ProductionService productions;

  ProductionController(ProductionService productions) {
    this.productions = productions;
  }

  @GetMapping("/api/productions")
  List<Production> all() {
    return productions.all();
  }

  /**
   * What a new production is made from.
   *
   * @param copyOf production that is copied; null for an empty one
   */
  record NewProduction(String name, @Schema(types = {"integer", "null"}) Long copyOf) {}

  @PostMapping("/api/productions")
  Production add(@RequestBody NewProduction n) {
    return n.copyOf() == null ? productions.add(n.name()) : productions.copy(n.copyOf(), n.name());
  }

  @PutMapping("/api/productions/{id}")
  Production change(@PathVariable long id, @RequestBody Production p) {
    if (p.id() != id) {
      throw new IllegalArgumentException("the production's number does not match its address");
    }
    return productions.change(p);
  }
}
