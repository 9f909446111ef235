package posada.server.ledger;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.List;
import posada.server.app.Pushed;

/**
 * How rendering a sample of fresh frames again goes.
 *
 * @param done frames that were compared
 * @param total frames that are to be
 * @param running false when it is over
 * @param different frames that came out otherwise; they are suspect since
 * @param failure why it broke off; null if it did not
 */
@Pushed("check")
public record LedgerCheck(
    long productionId,
    int done,
    int total,
    boolean running,
    List<String> different,
    @Schema(types = {"string", "null"}) String failure) {}
