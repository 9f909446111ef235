package posada.server.board;

import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;
import posada.formats.batch.PlanDocument;
import posada.formats.gltf.ImportException;

@RestController
class PlanController {
  private final PlanService plans;

  PlanController(PlanService plans) {
    this.plans = plans;
  }

  /** A production as a plan, to be kept as a file. */
  @GetMapping("/api/productions/{id}/plan")
  ResponseEntity<PlanDocument> plan(@PathVariable long id) {
    return ResponseEntity.ok()
        .header(
            HttpHeaders.CONTENT_DISPOSITION,
            ContentDisposition.attachment().filename("plan.json").build().toString())
        .body(plans.plan(id));
  }

  /** Takes a plan over into a production. */
  @PostMapping("/api/productions/{id}/plan")
  PlanDocument take(@PathVariable long id, @RequestBody PlanDocument plan) throws ImportException {
    return plans.take(id, plan);
  }
}
