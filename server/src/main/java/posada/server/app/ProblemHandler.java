package posada.server.app;

import java.io.IOException;
import java.sql.SQLException;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.http.HttpStatus;
import org.springframework.http.ProblemDetail;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.transaction.TransactionException;
import org.springframework.web.ErrorResponse;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.context.request.async.AsyncRequestNotUsableException;
import org.springframework.web.context.request.async.AsyncRequestTimeoutException;
import org.springframework.web.method.annotation.MethodArgumentTypeMismatchException;
import org.springframework.web.multipart.MaxUploadSizeExceededException;
import org.springframework.web.multipart.MultipartException;
import org.springframework.web.servlet.resource.NoResourceFoundException;
import posada.formats.files.FileTrouble;
import posada.formats.gltf.ImportException;
import posada.formats.settings.Documents;
import posada.server.storage.StorageHealth;
import tools.jackson.core.JacksonException;

/** Turns every error into one problem document (RFC 9457) whose detail is fit to be shown. */
@RestControllerAdvice
class ProblemHandler {
  private static final Logger LOG = LoggerFactory.getLogger(ProblemHandler.class);

  /** A word that is so long is nobody's to read. */
  private static final Pattern LONG_WORD = Pattern.compile("(\\S{80})\\S{40,}");

  /** State of a statement with a text that its column has no room for. */
  private static final String TOO_LONG = "22001";

  private static final Pattern COLUMN =
      Pattern.compile("column \"(?:.*\\.)?\"?(\\w+)\"? CHARACTER[A-Z ]*\\((\\d+)\\)");

  private final StorageHealth storage;

  ProblemHandler(StorageHealth storage) {
    this.storage = storage;
  }

  private static ProblemDetail problem(HttpStatus status, String detail) {
    String said = detail == null ? status.getReasonPhrase() : detail;
    return ProblemDetail.forStatusAndDetail(status, LONG_WORD.matcher(said).replaceAll("$1 …"));
  }

  @ExceptionHandler
  ProblemDetail missing(NotFoundException e) {
    return problem(HttpStatus.NOT_FOUND, e.getMessage());
  }

  @ExceptionHandler
  ProblemDetail missing(NoResourceFoundException e) {
    return problem(HttpStatus.NOT_FOUND, "There is nothing at /" + e.getResourcePath() + ".");
  }

  @ExceptionHandler
  ProblemDetail conflict(ConflictException e) {
    return problem(HttpStatus.CONFLICT, e.getMessage());
  }

  @ExceptionHandler
  ProblemDetail unreadable(UnreadableException e) {
    return problem(HttpStatus.UNPROCESSABLE_CONTENT, e.getMessage());
  }

  @ExceptionHandler
  ProblemDetail scene(ImportException e) {
    return problem(HttpStatus.UNPROCESSABLE_CONTENT, e.getMessage());
  }

  @ExceptionHandler
  ProblemDetail value(IllegalArgumentException e) {
    return problem(HttpStatus.BAD_REQUEST, e.getMessage());
  }

  @ExceptionHandler
  ProblemDetail value(MethodArgumentTypeMismatchException e) {
    return problem(HttpStatus.BAD_REQUEST, e.getName() + " cannot be \"" + e.getValue() + "\".");
  }

  /** Values that a request's record refuses are in the middle of what could not be read. */
  @ExceptionHandler
  ProblemDetail body(HttpMessageNotReadableException e) {
    if (e.getCause() instanceof JacksonException wrong) {
      return problem(HttpStatus.BAD_REQUEST, Documents.sentence(wrong, null));
    }
    return problem(HttpStatus.BAD_REQUEST, "The request's JSON cannot be read.");
  }

  @ExceptionHandler
  ProblemDetail form(MultipartException e) {
    return problem(
        HttpStatus.BAD_REQUEST,
        "The upload is cut off, or is no form with a file (multipart/form-data); send it again.");
  }

  @ExceptionHandler
  ProblemDetail size(MaxUploadSizeExceededException e) {
    return problem(HttpStatus.CONTENT_TOO_LARGE, "The file is larger than 4 GiB.");
  }

  /** The page, or the server, goes in the middle of an answer: nobody is left to tell. */
  @ExceptionHandler({AsyncRequestNotUsableException.class, AsyncRequestTimeoutException.class})
  void gone(Exception e) {
    LOG.debug("an answer ended in the middle", e);
  }

  @ExceptionHandler
  ProblemDetail disk(IOException e) {
    LOG.warn("file trouble", e);
    return problem(
        HttpStatus.INTERNAL_SERVER_ERROR, "A file could not be used: " + FileTrouble.sentence(e));
  }

  @ExceptionHandler({DataAccessException.class, TransactionException.class})
  ProblemDetail database(RuntimeException e) {
    if (!StorageHealth.isDown(e)) {
      String tooLong = tooLong(e);
      return tooLong == null ? rest(e) : problem(HttpStatus.BAD_REQUEST, tooLong);
    }
    storage.failed(e);
    String why = storage.now().message();
    return problem(
        HttpStatus.SERVICE_UNAVAILABLE,
        why == null ? "The database did not answer for a moment; try again." : why);
  }

  /** Says which text is longer than there is room for; null if that is not what is wrong. */
  private static String tooLong(Exception e) {
    for (Throwable t = e; t != null; t = t.getCause()) {
      if (t instanceof SQLException sql && TOO_LONG.equals(sql.getSQLState())) {
        Matcher m = COLUMN.matcher(sql.getMessage());
        return m.find()
            ? m.group(1).toLowerCase(Locale.ROOT).replace('_', ' ')
                + " may have "
                + m.group(2)
                + " letters; shorten it."
            : "A text is too long; shorten it.";
      }
    }
    return null;
  }

  @ExceptionHandler
  ProblemDetail rest(Exception e) {
    if (e instanceof ErrorResponse known) {
      return known.getBody();
    }
    LOG.error("a request failed", e);
    return problem(
        HttpStatus.INTERNAL_SERVER_ERROR, "The server failed at this; its log says where.");
  }
}
