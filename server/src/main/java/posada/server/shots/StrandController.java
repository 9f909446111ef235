package posada.server.shots;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

@RestController
class StrandController {
  private final StrandService strands;

  StrandController(StrandService strands) {
    this.strands = strands;
  }

  @GetMapping("/api/strands")
  List<Strand> all(@RequestParam long production) {
    return strands.all(production);
  }

  @PutMapping("/api/strands")
  List<Strand> change(@RequestParam long production, @RequestBody List<Strand> some) {
    return strands.change(production, some);
  }
}
