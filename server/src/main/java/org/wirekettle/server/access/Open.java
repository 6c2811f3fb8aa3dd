package org.wirekettle.server.access;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/** A method of the API that needs no session; it says itself who may use it. */
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.METHOD)
public @interface Open {
    /** Whether the caller is known where there is a session. */
    boolean knowsCaller() default false;
}
