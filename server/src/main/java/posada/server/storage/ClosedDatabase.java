package posada.server.storage;

import com.zaxxer.hikari.SQLExceptionOverride;
import java.sql.SQLException;
import java.util.Set;
import org.h2.api.ErrorCode;

/**
 * Lets the pool drop connections whose database has closed itself, so that the next one opens it
 * again: a connection of that kind never works any more, though it says that it is valid.
 */
public class ClosedDatabase implements SQLExceptionOverride {
  private static final Set<Integer> CLOSED =
      Set.of(
          ErrorCode.GENERAL_ERROR_1,
          ErrorCode.DATABASE_IS_CLOSED,
          ErrorCode.DATABASE_CALLED_AT_SHUTDOWN,
          ErrorCode.FILE_CORRUPTED_1,
          ErrorCode.IO_EXCEPTION_1,
          ErrorCode.IO_EXCEPTION_2,
          ErrorCode.CONNECTION_BROKEN_1,
          ErrorCode.OBJECT_CLOSED);

  @java.lang.Override
  public SQLExceptionOverride.Override adjudicate(SQLException e) {
    return CLOSED.contains(e.getErrorCode())
        ? SQLExceptionOverride.Override.MUST_EVICT
        : SQLExceptionOverride.Override.CONTINUE_EVICT;
  }
}
