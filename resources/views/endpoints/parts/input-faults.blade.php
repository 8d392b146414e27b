@foreach (array_values($ask->definition->endpoint['ask']['inputs'] ?? []) as $i => $input)
<p class="fault" id="in-{{ $i }}-fault" role="status" hx-swap-oob="true">{{ isset($ask->inputs[$input['name']]) ?
    ucfirst($ask->inputs[$input['name']]->reason) : (isset($refused[$input['name']]) ? 'The service says: '.$refused[$input['name']] : '') }}</p>
@endforeach
