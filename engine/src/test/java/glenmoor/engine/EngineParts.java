package glenmoor.engine;

import glenmoor.store.Database;
import glenmoor.store.WriteSignal;
import java.lang.reflect.Constructor;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.mybatis.spring.mapper.MapperScannerConfigurer;
import org.springframework.beans.factory.BeanFactoryUtils;
import org.springframework.beans.factory.annotation.AutowiredAnnotationBeanPostProcessor;
import org.springframework.beans.factory.config.RuntimeBeanReference;
import org.springframework.beans.factory.support.AbstractBeanDefinition;
import org.springframework.beans.factory.support.DefaultListableBeanFactory;
import org.springframework.beans.factory.support.ManagedList;
import org.springframework.context.annotation.AnnotationConfigApplicationContext;
import org.springframework.context.annotation.ContextAnnotationAutowireCandidateResolver;
import org.springframework.context.support.GenericApplicationContext;
import org.springframework.core.ResolvableType;
import org.springframework.core.annotation.AnnotationAwareOrderComparator;

/**
 * The parts of the engine as the service finds them and puts them together. Each test has those
 * made anew that it comes to; they are looked for once, and what goes into what is found out once,
 * as that takes longer than making them.
 */
final class EngineParts {
  private static final AnnotationConfigApplicationContext FOUND = found();

  /** What goes into the constructor of a part, by the part's name; none where it is not plain. */
  private static final Map<String, List<Object>> CONTENTS = new ConcurrentHashMap<>();

  private EngineParts() {}

  /** Only looks for them: none is made here. */
  private static AnnotationConfigApplicationContext found() {
    var found = new AnnotationConfigApplicationContext();
    found.setParent(Database.context());
    found.register(Engine.class);
    found.addBeanFactoryPostProcessor(factory -> {
      for (var name : factory.getBeanDefinitionNames()) {
        factory.getBeanDefinition(name).setLazyInit(true);
      }
    });
    found.refresh();
    return found;
  }

  /** A context with all parts but those that were registered in it before it is refreshed. */
  static GenericApplicationContext context() {
    var context =
        new GenericApplicationContext() {
          @Override
          public void refresh() {
            addParts(this);
            super.refresh();
            if (CONTENTS.isEmpty()) {
              learn(getDefaultListableBeanFactory());
            }
          }
        };
    context.setParent(Database.context());
    var factory = context.getDefaultListableBeanFactory();
    factory.setAutowireCandidateResolver(new ContextAnnotationAutowireCandidateResolver());
    var injecting = new AutowiredAnnotationBeanPostProcessor();
    injecting.setBeanFactory(factory);
    factory.addBeanPostProcessor(injecting);
    return context;
  }

  private static void addParts(GenericApplicationContext context) {
    for (var name : FOUND.getBeanDefinitionNames()) {
      var part = ((AbstractBeanDefinition) FOUND.getBeanDefinition(name)).cloneBeanDefinition();
      if (!context.containsBeanDefinition(name) && isMade(name, part)) {
        part.setLazyInit(true);
        var contents = CONTENTS.getOrDefault(name, List.of());
        for (var i = 0; i < contents.size(); i++) {
          part.getConstructorArgumentValues().addIndexedArgumentValue(i, contents.get(i));
        }
        context.registerBeanDefinition(name, part);
      }
    }
  }

  /** Whatever looks for others has found them already, and what MyBatis calls is the database's. */
  private static boolean isMade(String name, AbstractBeanDefinition part) {
    return !name.startsWith("org.springframework.")
        && !WriteSignal.class.getName().equals(part.getBeanClassName())
        && !MapperScannerConfigurer.class.getName().equals(part.getBeanClassName());
  }

  private static void learn(DefaultListableBeanFactory factory) {
    for (var name : FOUND.getBeanDefinitionNames()) {
      var part = factory.containsBeanDefinition(name) ? factory.getType(name) : null;
      if (part != null
          && part.getDeclaredConstructors().length == 1
          && FOUND.getBeanDefinition(name).getFactoryMethodName() == null) {
        var contents = contents(part.getDeclaredConstructors()[0], factory);
        if (contents != null) {
          CONTENTS.put(name, contents);
        }
      }
    }
  }

  private static @Nullable List<Object> contents(
      Constructor<?> constructor, DefaultListableBeanFactory factory) {
    var contents = new ArrayList<Object>();
    for (var i = 0; i < constructor.getParameterCount(); i++) {
      var wanted = ResolvableType.forConstructorParameter(constructor, i);
      if (wanted.resolve(Object.class) == List.class) {
        contents.add(all(names(wanted.getGeneric(0), factory), factory));
      } else {
        var one = one(names(wanted, factory), factory);
        if (one == null) {
          return null;
        }
        contents.add(new RuntimeBeanReference(one));
      }
    }
    return contents;
  }

  private static List<String> names(ResolvableType wanted, DefaultListableBeanFactory factory) {
    return List.of(BeanFactoryUtils.beanNamesForTypeIncludingAncestors(factory, wanted));
  }

  private static ManagedList<Object> all(List<String> names, DefaultListableBeanFactory factory) {
    var all = new ManagedList<Object>();
    var order = AnnotationAwareOrderComparator.INSTANCE;
    names.stream()
        .sorted((a, b) -> order.compare(factory.getBean(a), factory.getBean(b)))
        .map(RuntimeBeanReference::new)
        .forEach(all::add);
    return all;
  }

  private static @Nullable String one(
      Collection<String> names, DefaultListableBeanFactory factory) {
    var first =
        names.size() == 1
            ? names.stream()
            : names.stream()
                .filter(each -> factory.containsBeanDefinition(each))
                .filter(each -> factory.getBeanDefinition(each).isPrimary());
    return one(first);
  }

  private static @Nullable String one(Stream<String> names) {
    var all = names.toList();
    return all.size() == 1 ? all.getFirst() : null;
  }
}
