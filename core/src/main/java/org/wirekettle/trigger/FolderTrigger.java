package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.nio.file.FileSystems;
import java.nio.file.PathMatcher;
import java.util.List;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Refused;
import org.wirekettle.trigger.MessageInputs.MessagePlace;

/**
 * How a flow takes files that come into a folder. Plain data; stored as it is.
 *
 * @param folder below the one that the server watches, such as {@code manifests/in}
 * @param pattern of names, with * and ?; null for all
 * @param atATime files worked on beside each other; null for 2
 * @param attempts how often a file is worked on until it is set aside; null for 1
 * @param waitSeconds before another attempt; null for 5
 * @param quietSeconds for which a file has not changed before it is taken; null for 2
 * @param places of inputs that come from elsewhere than a member of the content
 * @param maxBodyBytes of a file; null for one million
 * @param text what it is for
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record FolderTrigger(
        String folder,
        @Nullable String pattern,
        @Nullable Integer atATime,
        @Nullable Integer attempts,
        @Nullable Integer waitSeconds,
        @Nullable Integer quietSeconds,
        @Nullable List<MessagePlace> places,
        @Nullable Integer maxBodyBytes,
        @Nullable String text)
        implements StandingTrigger {
    /** Inside of the folder: files whose records are done, and those that failed. */
    public static final String DONE = "done";

    public static final String FAILED = "failed";
    private static final int USUAL_AT_A_TIME = 2;
    private static final int MOST_AT_A_TIME = 16;
    private static final int MOST_ATTEMPTS = 20;
    private static final int USUAL_WAIT = 5;
    private static final int MOST_WAIT = 3_600;
    private static final int USUAL_QUIET = 2;
    private static final Pattern FOLDER = Pattern.compile(
            "[\\p{L}\\p{N}_ -][\\p{L}\\p{N}_. -]{0,99}(/[\\p{L}\\p{N}_ -]" + "[\\p{L}\\p{N}_. -]{0,99}){0,7}");
    private static final int MAX_PATTERN = 100;

    public FolderTrigger {
        atATime = atATime == null ? USUAL_AT_A_TIME : atATime;
        attempts = attempts == null ? 1 : attempts;
        waitSeconds = waitSeconds == null ? USUAL_WAIT : waitSeconds;
        quietSeconds = quietSeconds == null ? USUAL_QUIET : quietSeconds;
        maxBodyBytes = maxBodyBytes == null ? HttpTrigger.USUAL_BODY_BYTES : maxBodyBytes;
        places = places == null ? List.of() : List.copyOf(places);
        pattern = pattern == null || pattern.isBlank() ? "*" : pattern.strip();
    }

    @Override
    public FolderTrigger checked() {
        if (folder == null || !FOLDER.matcher(folder).matches()) {
            throw refused(
                    "folder",
                    "A folder is named by letters, digits, _ - . and blanks, such as manifests/in; it begins with no"
                            + " point, and lies below the one that the server watches.");
        }
        if (pattern.length() > MAX_PATTERN || pattern.contains("/")) {
            throw refused("pattern", "A pattern is of names in the folder, such as *.xml.");
        }
        matcher();
        Limits.range("folder.atATime", "Files at a time are", atATime, 1, MOST_AT_A_TIME);
        Limits.range("folder.attempts", "Attempts are", attempts, 1, MOST_ATTEMPTS);
        Limits.range("folder.waitSeconds", "Seconds before another attempt are", waitSeconds, 0, MOST_WAIT);
        Limits.range("folder.quietSeconds", "Seconds without a change are", quietSeconds, 0, MOST_WAIT);
        Limits.range("folder.maxBodyBytes", "The bytes of a file are", maxBodyBytes, 1, HttpTrigger.MOST_BODY_BYTES);
        Limits.text("folder.text", text);
        return this;
    }

    /** Tells names that are taken. */
    public PathMatcher matcher() {
        try {
            return FileSystems.getDefault().getPathMatcher("glob:" + pattern);
        } catch (PatternSyntaxException e) {
            throw new Refused("folder.pattern", null, "The pattern is none: " + e.getDescription() + ".", e);
        }
    }

    @Override
    public String askedBy() {
        return folder;
    }

    private static Refused refused(String what, String text) {
        return new Refused("folder." + what, null, text);
    }
}
