package dasein.app;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.mybatis.spring.annotation.MapperScan;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.builder.SpringApplicationBuilder;

/** The web application, or only its worker part. */
@SpringBootApplication
@MapperScan(basePackages = "dasein.app", annotationClass = org.apache.ibatis.annotations.Mapper.class)
public class Server {
    static void start(String[] args) {
        List<String> rest = new ArrayList<>(Arrays.asList(args).subList(1, args.length));
        if (args[0].equals("demo")) rest.add("--dasein.demo=demo");
        new SpringApplicationBuilder(Server.class)
                .web(args[0].equals("worker") ? WebApplicationType.NONE : WebApplicationType.SERVLET)
                .run(rest.toArray(String[]::new));
    }
}
