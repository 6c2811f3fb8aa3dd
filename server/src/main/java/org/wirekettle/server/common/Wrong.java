package org.wirekettle.server.common;

import org.wirekettle.problem.Refused;

/** A request that cannot be met: what it refuses, with the HTTP status that says so. */
public final class Wrong extends Refused {
    private static final long serialVersionUID = 1;
    private final int status;

    private Wrong(int status, String code, String message) {
        super(code, null, message);
        this.status = status;
    }

    public static Wrong notFound(String what, Object name) {
        return new Wrong(404, what + ".unknown", "There is no " + what + " " + name + ".");
    }

    public static Wrong input(String code, String message) {
        return new Wrong(422, code, message);
    }

    public static Wrong malformed(String message) {
        return new Wrong(400, "request.malformed", message);
    }

    /** @return the value, when it is there */
    public static <T> T required(T value, String name) {
        if (value == null) {
            throw malformed("The request needs " + name + ".");
        }
        return value;
    }

    public static Wrong conflict(String code, String message) {
        return new Wrong(409, code, message);
    }

    /** Whoever asks has to say first who they are. */
    public static Wrong unknownCaller(String code, String message) {
        return new Wrong(401, code, message);
    }

    public static Wrong forbidden(String message) {
        return new Wrong(403, "access.forbidden", message);
    }

    public int status() {
        return status;
    }
}
