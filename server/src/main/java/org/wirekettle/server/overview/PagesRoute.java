package org.wirekettle.server.overview;

import io.vertx.ext.web.Router;
import io.vertx.ext.web.RoutingContext;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;

/**
 * Deep links: every address of the interface is answered with its one page, which then shows what the address names;
 * those of run pages with another.
 */
@ApplicationScoped
public class PagesRoute {
    private static final String CONTENT_SECURITY =
            "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none';"
                    + " base-uri 'self'; form-action 'self'";

    /** Colleagues get a page of its own, which has nothing of the others in it. */
    private static final String RUN_PAGE = "/page.html";

    void routes(@Observes Router router) {
        router.get().order(0).handler(PagesRoute::page);
    }

    private static void page(RoutingContext c) {
        String path = c.normalizedPath();
        // Names of connections, contracts and so on may have dots; built files have folders of their own.
        boolean isPage = !path.startsWith("/api/")
                && !path.startsWith("/q/")
                && !path.startsWith("/assets/")
                && !path.equals("/index.html")
                && !path.equals(RUN_PAGE)
                && !path.equals("/favicon.ico")
                && !path.equals("/mark.svg");
        if (isPage && !path.equals("/")) {
            boolean isRunPage = path.equals("/pages") || path.startsWith("/pages/");
            c.reroute(isRunPage ? RUN_PAGE : "/");
            return;
        }
        // Built files carry a digest in their names; the page itself must always be the current one.
        c.response()
                .putHeader(
                        "Cache-Control",
                        path.startsWith("/assets/") ? "public, max-age=31536000, immutable" : "no-cache");
        if (!path.startsWith("/api/")) {
            c.response().putHeader("Content-Security-Policy", CONTENT_SECURITY);
        }
        c.next();
    }
}
